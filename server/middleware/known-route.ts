import { API_ROUTES } from '#api-routes'
import { groupBy } from '~~/core/group-by'
import { Refusal } from '~~/server/utils/refusal'

const methodsByPattern = [...groupBy(API_ROUTES, ({ route }) => route)].map(([route, own]) => ({
  pattern: new RegExp(`^${route.replaceAll(/:[^/]+/g, '[^/]+')}$`),
  methods: own.map(({ method }) => method.toUpperCase()),
}))

/**
 * Says that there is no such route, or not for this method; without it the page of the application would be the answer.
 */
export default defineEventHandler((event) => {
  const path = event.path.split('?')[0]!.replace(/\/$/, '')
  // What modules answer themselves begins with an underscore.
  if (!/^\/api(\/(?!_)|$)/.test(path)) {
    return
  }
  const methods = methodsByPattern.filter(({ pattern }) => pattern.test(path)).flatMap((entry) => entry.methods)
  if (methods.length === 0) {
    return answerProblem(event, new Refusal('not-found', `There is nothing at ${path}.`).problem)
  }
  if (!methods.includes(event.method === 'HEAD' ? 'GET' : event.method)) {
    setResponseHeader(event, 'allow', methods.join(', '))
    return answerProblem(event, new Refusal('wrong-method', `${path} answers ${methods.join(' and ')} only.`).problem)
  }
})
