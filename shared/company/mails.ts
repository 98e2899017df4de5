export interface MailHead {
  readonly id: number
  readonly sentOn: string
  readonly to: string
  readonly subject: string
  readonly body: string
  /** It stays here, or it goes out by a mail server: it waits for that, was sent, or could not be. */
  readonly state: 'kept' | 'waiting' | 'sent' | 'failed'
  readonly problem: string
  readonly passedOnAt: string | null
}
