/** Stands for what the server has not sent: on its way, or why it does not come. Never for a list that is empty. */
export const Waiting = ({ error }: { error: Error | null }) =>
  error ? (
    <p className="fall" role="alert">
      {error.message}
    </p>
  ) : (
    <p className="quiet">Loading</p>
  )
