import type { Config } from '../config.ts'

/** The whole address of a path of the program, as others find it: at the first of PUBLIC_ORIGINS, else on this machine. */
export const publicAddress = ({ HOST, PORT, PUBLIC_ORIGINS: [first] }: Config, path: string): string =>
  new URL(path, first ?? `http://${HOST}:${PORT}`).href
