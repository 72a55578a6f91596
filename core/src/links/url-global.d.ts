// URL (WHATWG URL standard) is there in browsers, workers and Node alike, but not in the language's own types.
declare class URL {
  constructor(url: string, base?: string)
  static canParse(url: string, base?: string): boolean
  readonly href: string
  readonly origin: string
  protocol: string
  hostname: string
  host: string
  port: string
  pathname: string
  search: string
  hash: string
  username: string
  password: string
}
