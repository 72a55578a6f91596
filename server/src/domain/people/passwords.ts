import { hash, verify } from '@node-rs/argon2'
import { AppError } from '@dew-trail/contract/errors'
import { shortestPassword } from '@dew-trail/contract/people'
import { dictionary } from '@zxcvbn-ts/language-common'

/** Passwords that are tried first: some thirty thousand, in lower case. */
const common = new Set(dictionary['passwords-common'])

/** Throws `badInput` where a password is short, common, or made of the name or address that it is to guard. */
export function checkPassword(password: string, { name, email }: { name: string; email: string }): void {
  const refuse = (why: string) =>
    new AppError('badInput', `password: ${why}`, { issues: [{ field: 'password', message: why }] })
  if ([...password].length < shortestPassword) throw refuse(`must have at least ${shortestPassword} characters`)
  const plain = password.toLowerCase().normalize('NFKC')
  if (common.has(plain) || /^(.{1,4})\1+$/u.test(plain) || isRun(plain))
    throw refuse('is one of those that are tried first. Take several words that do not belong together')
  const own = [name, email, email.split('@')[0]!].map(each => each.toLowerCase()).filter(each => each.length > 3)
  if (own.some(each => plain.includes(each) && plain.length < each.length + 6))
    throw refuse('is little more than the name or the mail address')
}
/** Whether each character follows the one before, as in 123456789012 or abcdefghijkl. */
const isRun = (text: string): boolean =>
  [...text].every((char, i) => {
    if (!i) return true
    const step = char.codePointAt(0)! - text.codePointAt(i - 1)!
    return Math.abs(step) === 1 || (text[i - 1] === '9' && char === '0')
  })

/** A password as it is stored: Argon2id with 19 MiB and two passes, as OWASP advises, with a salt of its own. */
export const hashPassword = (password: string): Promise<string> => hash(password.normalize('NFKC'))

let nobody: Promise<string> | undefined
/** Whether a password is the one of a hash. Without a hash it takes as long and is false: nobody can time which accounts there are. */
export async function isPassword(password: string, stored: string | undefined): Promise<boolean> {
  nobody ??= hashPassword('no account has this password')
  const fits = await verify(stored ?? (await nobody), password.normalize('NFKC')).catch(() => false)
  return stored !== undefined && fits
}
