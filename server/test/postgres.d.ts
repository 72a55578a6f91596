/** Starting PostgreSQL is JavaScript, since the start command runs before anything is installed. */
declare module '*/scripts/lib/postgres.mjs' {
  export type RunningPostgres = { url: string; port: number; stop(): Promise<void> }
  export function startPostgres(options: {
    folder: string
    logFile: string
    fast?: boolean
    port?: number
  }): Promise<RunningPostgres>
  export function needDatabase(postgres: RunningPostgres, name: string): string
}
