import { readFileSync } from 'node:fs'

/** Memory that a process holds now, in MB. */
export const residentMb = (pid: number): number =>
  Number(/VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? Number.NaN) / 1024
