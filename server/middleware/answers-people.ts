import { Refusal } from '~~/server/utils/refusal'
import { answersPeople } from '~~/server/utils/program-role'

const OPEN = /^\/api\/(?:health\/|metrics)/

/** A program that only works in the background tells how it is, and nothing else. */
export default defineEventHandler((event) => {
  if (!answersPeople() && !OPEN.test(event.path)) {
    return answerProblem(event, new Refusal('not-found', 'This program only does background work.').problem)
  }
})
