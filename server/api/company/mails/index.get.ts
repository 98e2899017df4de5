import { listMails } from '~~/server/services/company/mails'

export default route('see', async (_, actor) => listMails(actor))
