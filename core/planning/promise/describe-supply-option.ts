import { plural } from '../../plural'
import type { SupplyOption } from './supply-option'

/** How a sentence names items, quantities and days. */
export interface SupplyOptionWords {
  item(node: string): string
  quantity(node: string, steps: number): string
  day(iso: string): string
}

const days = (count: number): string => `${count} working ${plural(count, 'day', 'days')}`

/** What must be ordered at once for it, where that is more. */
const atOnce = (option: Extract<SupplyOption, { leadDays: number }>, words: SupplyOptionWords): string =>
  option.ordered === undefined ? '' : ` (${words.quantity(option.node, option.ordered)} at once)`

function comingWith(option: Extract<SupplyOption, { kind: 'coming' }>, words: SupplyOptionWords): string {
  const supply = option.supply === null ? '' : `, with ${option.supply}`
  return option.pulledInFrom === undefined ? supply : `${supply}, pulled in from ${words.day(option.pulledInFrom)}`
}

/** One sentence for one way in which a quantity can be there; what it rests on is told by its own sentences. */
export function describeSupplyOption(option: SupplyOption, words: SupplyOptionWords): string {
  const amount = `${words.quantity(option.node, option.quantity)} ${words.item(option.node)}`
  switch (option.kind) {
    case 'free':
      return `${amount}: free now.`
    case 'coming':
      return `${amount}: free from ${words.day(option.on)} on${comingWith(option, words)}.`
    case 'buy':
      return `${amount}: bought today${atOnce(option, words)}, here on ${words.day(option.on)} (${days(option.leadDays)}).`
    case 'make':
    case 'break down': {
      const act = option.kind === 'make' ? 'built' : 'broken down'
      return option.on === null || option.begin === null
        ? `${amount}: cannot be ${act}; what it needs cannot be got.`
        : `${amount}: ${act} from ${words.day(option.begin)} on${atOnce(option, words)}${option.from.length > 0 ? ', when all of what it needs is there' : ''}, ready on ${words.day(option.on)} (${days(option.leadDays)}).`
    }
    case 'move':
      return option.on === null
        ? `${amount}: cannot be moved from where it is held.`
        : `${amount}: moved from another site, here on ${words.day(option.on)} (${days(option.leadDays)}).`
    case 'none':
      return `${amount}: there is no way to get it (${option.reason}).`
  }
}
