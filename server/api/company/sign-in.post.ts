import { signIn } from '~~/server/services/company/people'
import { SignIn } from '~~/shared/company/people'

export default openRoute(async (event) => {
  const person = await signIn(input(SignIn, await readBody(event)))
  await setUserSession(event, { user: { id: person.id } })
  return person
})
