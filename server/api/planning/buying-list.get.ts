import { buyingList } from '~~/server/services/planning/buying-list'

export default route('see', () => buyingList())
