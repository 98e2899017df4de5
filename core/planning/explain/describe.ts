import { plural } from '../../plural'
import type { PlanMessage } from './output'

export interface PlanWords {
  item(node: string): string
  quantity(node: string, steps: number): string
  day(iso: string): string
  ref(id: string): string
}

/** What every sentence says, said already. */
interface Said {
  readonly amount: string
  readonly item: string
  readonly day: string
  readonly words: PlanWords
}
type Sentences = {
  readonly [Code in PlanMessage['code']]: (message: PlanMessage & { readonly code: Code }, said: Said) => string
}

const SENTENCES: Sentences = {
  short: (_, { item, amount, day }) => `${item}: ${amount} short on ${day}.`,
  'late order': ({ promised, lateBy }, { item, amount, day, words }) =>
    `${item}: ${amount} needed on ${day} can be there on ${words.day(promised)} at the earliest, ${workingDays(lateBy)} of lead time too late.`,
  'pull in': ({ supply, from }, { item, amount, day, words }) =>
    `${words.ref(supply)}: pull in ${amount} of ${item} from ${words.day(from)} to ${day}.`,
  'late supply': ({ supply, comes, waiting }, { item, amount, day, words }) =>
    `${words.ref(supply)}: ${amount} of ${item} short from ${day} on; it comes on ${words.day(comes)}, and a new order would not be sooner${whoWaits(waiting, words)}.`,
  'not netted': ({ by }, { item, amount, day, words }) =>
    `${item}: ${amount} come from ${day} on with orders for ${words.item(by)}, in a circle with it. They are in its balance, but no order of it is smaller for them.`,
  surplus: ({ supply }, { item, amount, day, words }) =>
    `${words.ref(supply)}: nothing in the horizon needs the ${amount} of ${item} due on ${day}.`,
  'past due': ({ ref }, { item, amount, day, words }) => `${words.ref(ref)}: ${amount} of ${item} was due on ${day}.`,
  'will expire': ({ lot }, { item, amount, day }) => `${item}: ${amount} will expire unused on ${day}${inLot(lot)}.`,
  'below safety': ({ node, safety }, { item, amount, day, words }) =>
    `${item}: ${amount} below its safety stock of ${words.quantity(node, safety)} from ${day} on.`,
  'push out': ({ supply, from }, { item, amount, day, words }) =>
    `${words.ref(supply)}: nobody needs the ${amount} of ${item} before ${day}; it can come then instead of ${words.day(from)}.`,
  'long lead time': ({ leadDays, longest }, { item }) =>
    `${item}: with what it is made from it takes ${leadDays} working days, more than the ${longest} that this plan looks at. Plan further ahead, or hold some in stock.`,
  'beyond limit': ({ limit }, { item }) =>
    limit === 'sum'
      ? `${item}: its quantities are too large to be reckoned with, so nothing of it is planned. Look for a digit too many in what wants or brings it.`
      : `${item}: one need would be split into thousands of orders, so nothing of it is planned. Look at its maximum and its order step.`,
  loop: ({ path }, { item, words }) =>
    `${item}: its bills run in a circle (${path.map(words.item).join(' → ')}), so none of it is planned. Take one of these components out.`,
  'no source': (_, { item }) => `${item}: nothing says where it comes from. Give it a supplier's terms on its page.`,
  'no BOM': (_, { item }) => `${item}: it is made, but has no bill of materials. Write one on its page.`,
  'no conversion': (_, { item }) =>
    `${item}: a unit of its bill or terms cannot be converted. Add a pack or a bridge on the item.`,
  retired: (_, { item }) => `${item}: it is retired or no longer bought, so nothing is planned for it.`,
}

/** Says a plan's message in a sentence: what, when, and what to do. */
export function describeMessage(message: PlanMessage, words: PlanWords): string {
  const say = SENTENCES[message.code] as (message: PlanMessage, said: Said) => string
  return say(message, {
    amount: words.quantity(message.node, message.quantity),
    item: words.item(message.node),
    day: words.day(message.day),
    words,
  })
}

const workingDays = (count: number): string => `${count} working ${plural(count, 'day', 'days')}`
const MOST_NAMED = 3
function whoWaits(waiting: readonly string[], words: PlanWords): string {
  if (waiting.length === 0) {
    return '; until then the safety stock is touched'
  }
  const named = [...new Set(waiting.map((id) => words.ref(id)))]
  const rest = named.length - MOST_NAMED
  return `; ${named.slice(0, MOST_NAMED).join(', ')}${rest > 0 ? ` and ${rest} more` : ''} ${plural(named.length, 'waits', 'wait')} for it`
}
const inLot = (lot: string | null): string => (lot === null ? '' : ` (lot ${lot})`)
