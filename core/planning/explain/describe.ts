import { plural } from '../../plural'
import type { PlanMessage } from './output'

export interface PlanWords {
  item(node: string): string
  quantity(node: string, steps: number): string
  day(iso: string): string
  ref(id: string): string
}

/** Says a plan's message in a sentence: what, when, and what to do. */
export function describeMessage(message: PlanMessage, words: PlanWords): string {
  const amount = words.quantity(message.node, message.quantity)
  const item = words.item(message.node)
  const day = words.day(message.day)
  switch (message.code) {
    case 'short':
      return `${item}: ${amount} short on ${day}.`
    case 'late order':
      return `${item}: ${amount} needed on ${day} can be there on ${words.day(message.promised)} at the earliest, ${workingDays(message.lateBy)} of lead time too late.`
    case 'pull in':
      return `${words.ref(message.supply)}: pull in ${amount} of ${item} from ${words.day(message.from)} to ${day}.`
    case 'surplus':
      return `${words.ref(message.supply)}: nothing in the horizon needs the ${amount} of ${item} due on ${day}.`
    case 'past due':
      return `${words.ref(message.ref)}: ${amount} of ${item} was due on ${day}.`
    case 'will expire':
      return `${item}: ${amount} will expire unused on ${day}${inLot(message.lot)}.`
    case 'below safety':
      return `${item}: ${amount} below its safety stock of ${words.quantity(message.node, message.safety)} from ${day} on.`
    case 'push out':
      return `${words.ref(message.supply)}: nobody needs the ${amount} of ${item} before ${day}; it can come then instead of ${words.day(message.from)}.`
    case 'long lead time':
      return `${item}: with what it is made from it takes ${message.leadDays} working days, more than the ${message.longest} that this plan looks at. Plan further ahead, or hold some in stock.`
    case 'loop':
      return `${item}: its bills run in a circle (${message.path.map(words.item).join(' → ')}), so none of it is planned. Take one of these components out.`
    case 'no source':
      return `${item}: nothing says where it comes from. Give it a supplier's terms on its page.`
    case 'no BOM':
      return `${item}: it is made, but has no bill of materials. Write one on its page.`
    case 'no conversion':
      return `${item}: a unit of its bill or terms cannot be converted. Add a pack or a bridge on the item.`
    case 'retired':
      return `${item}: it is retired or no longer bought, so nothing is planned for it.`
  }
}

const workingDays = (count: number): string => `${count} working ${plural(count, 'day', 'days')}`
const inLot = (lot: string | null): string => (lot === null ? '' : ` (lot ${lot})`)
