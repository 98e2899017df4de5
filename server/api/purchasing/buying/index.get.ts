import { buyingNeeds } from '~~/server/services/purchasing/buying/buying-needs'

export default route('see', (_event, actor) => buyingNeeds(actor))
