/** Progress lines of the start and test commands, and the one-line end when something cannot go on. */
export const say = (/** @type {string} */ text) => console.log(`  ${text}`)

/** An error whose message is a whole, clear line for the user. */
export class ClearError extends Error {}
