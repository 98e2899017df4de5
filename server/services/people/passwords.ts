import { ZxcvbnFactory } from '@zxcvbn-ts/core'
import { adjacencyGraphs, dictionary } from '@zxcvbn-ts/language-common'
import { refuseField } from '~~/server/utils/refusal'

/** A password that some hundred million tries would find is too weak: score 2 of 4 by zxcvbn (Wheeler, USENIX 2016). */
const LEAST_SCORE = 2
let strength: ZxcvbnFactory | null = null

/**
 * Refuses, beside `password`, what is among the common passwords or is guessed from what is known of the person. `own`:
 * their name, address and company.
 */
export function requireStrong(password: string, own: readonly string[]): void {
  strength ??= new ZxcvbnFactory({ dictionary, graphs: adjacencyGraphs })
  // What anybody knows of the person adds nothing to the strength: the rest has to be strong by itself.
  const known = own.flatMap((text) => text.toLowerCase().split(/[\s@.-]+/)).filter((part) => part.length > 2)
  const rest = known.reduce((text, part) => text.replaceAll(part, ''), password.toLowerCase())
  if (strength.check(rest).score < LEAST_SCORE) {
    refuseField(
      'password',
      'This password is easily guessed. Take three or four words that have nothing to do with each other or with you.',
    )
  }
}
