import { loadCompany, today } from '~~/server/services/company/company'
import { demoSignIns } from '~~/server/services/company/prepare'
import type { Person } from '~~/shared/company/people'

export default openRoute(async (event) => {
  const session = await sessionOf(event)
  const person: Person | null = session && {
    id: session.id,
    name: session.name,
    email: session.email,
    role: session.role,
    rights: session.rights,
  }
  return { company: await loadCompany(), person, today: await today(), signIns: await demoSignIns() }
})
