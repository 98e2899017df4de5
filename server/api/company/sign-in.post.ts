import { signIn } from '~~/server/services/people/sign-in'
import { SignIn } from '~~/shared/company/people'

export default openRoute(async (event) => {
  const { token, person } = await signIn(input(SignIn, await readBody(event)), whenceOf(event))
  await replaceUserSession(event, { user: { id: person.id }, secure: { token } })
  return person
})
