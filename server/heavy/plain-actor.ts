import type { Actor } from '~~/server/utils/route'

/** Who acts, as it can be handed to a thread. */
export type PlainActor = Omit<Actor, 'digest'>

export function asPlain(actor: Actor): PlainActor {
  const { digest, ...plain } = actor
  void digest
  return plain
}
