import { readOwnSignIn } from '~~/server/services/people/own-sign-in'

export default sessionRoute('see', async (_, session) => readOwnSignIn(session))
