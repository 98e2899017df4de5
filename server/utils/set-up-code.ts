import { timingSafeEqual } from 'node:crypto'
import { refuseField } from './refusal'

/** Refuses whoever would begin the company without the code that was told where Tsumiki was started. */
export function requireSetUpCode(given: string): void {
  const wanted = Buffer.from((process.env.TSUMIKI_SET_UP_CODE ?? '').toUpperCase())
  const typed = Buffer.from(given.toUpperCase())
  if (wanted.length === 0) {
    refuseField('setUpCode', 'No company can be begun here: the server was started without a set-up code.')
  }
  if (typed.length !== wanted.length || !timingSafeEqual(typed, wanted)) {
    refuseField('setUpCode', 'This is not the set-up code. It is told where Tsumiki was started.')
  }
}
