import nodemailer from 'nodemailer'
import type { Config } from '../config.ts'

export type Mail = {
  to: string
  subject: string
  text: string
  html?: string
  attachments?: Array<{ filename: string; content: Buffer; contentType: string }>
}

/** Whether the server was told of a mail server. */
export const canMail = (config: Pick<Config, 'SMTP_URL'>): boolean => config.SMTP_URL !== ''

/** Hands a mail to the mail server. Throws what that answers, in words that name it. */
export async function sendMail(config: Pick<Config, 'SMTP_URL' | 'MAIL_FROM'>, mail: Mail): Promise<void> {
  if (!canMail(config)) throw new Error('No mail server is set: SMTP_URL is empty')
  const transport = nodemailer.createTransport(config.SMTP_URL, { from: config.MAIL_FROM })
  try {
    await transport.sendMail(mail)
  } catch (error) {
    throw new Error(`The mail server did not take the mail: ${(error as Error).message}`)
  } finally {
    transport.close()
  }
}
