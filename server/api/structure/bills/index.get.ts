import { db } from '~~/server/database/client'
import { listBills } from '~~/server/services/structure/bills'
import { BillList } from '~~/shared/structure/requests'

export default route('see', async (event, actor) => listBills(db, input(BillList, getQuery(event)), actor.today))
