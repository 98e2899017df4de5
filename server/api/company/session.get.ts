import { loadCompany, loadPerson, today } from '~~/server/services/company/company'
import { demoSignIns } from '~~/server/services/company/prepare'

export default openRoute(async (event) => {
  const { user } = await getUserSession(event)
  return {
    company: await loadCompany(),
    person: user ? await loadPerson(user.id) : null,
    today: await today(),
    signIns: await demoSignIns(),
  }
})
