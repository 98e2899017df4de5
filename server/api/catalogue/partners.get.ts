import { findPartners } from '~~/server/services/catalogue/partners'
import { PartnerQuery } from '~~/shared/catalogue/requests'

export default route('see', async (event) => findPartners(input(PartnerQuery, getQuery(event))))
