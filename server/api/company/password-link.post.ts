import { lookAtLink } from '~~/server/services/people/password-links'
import { PasswordLinkQuery } from '~~/shared/company/people'

// What the link holds is sent in the body, so that it stands in nobody's log of addresses.
export default openRoute(async (event) => lookAtLink(input(PasswordLinkQuery, await readBody(event)).token))
