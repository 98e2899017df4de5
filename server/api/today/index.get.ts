import { todayLines } from '~~/server/services/today/today'

export default route('see', async (_, actor) => todayLines(actor.today))
