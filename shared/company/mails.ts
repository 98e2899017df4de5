export interface MailHead {
  readonly id: number
  readonly sentOn: string
  readonly to: string
  readonly subject: string
  readonly body: string
}
