import type { Way } from './promise'

export interface WayWords {
  item(node: string): string
  quantity(node: string, steps: number): string
  day(iso: string): string
}

const days = (count: number): string => `${count} working ${count === 1 ? 'day' : 'days'}`

/** One sentence for one way in which a quantity can be there; what it rests on is told by its own sentences. */
export function describeWay(way: Way, words: WayWords): string {
  const amount = `${words.quantity(way.node, way.quantity)} ${words.item(way.node)}`
  switch (way.kind) {
    case 'free':
      return `${amount}: free now.`
    case 'coming':
      return `${amount}: free from ${words.day(way.on)} on${way.supply === null ? '' : `, with ${way.supply}`}.`
    case 'buy':
      return `${amount}: bought today, here on ${words.day(way.on)} (${days(way.leadDays)}).`
    case 'make':
    case 'break down': {
      const act = way.kind === 'make' ? 'built' : 'broken down'
      return way.on === null || way.begin === null
        ? `${amount}: cannot be ${act}; what it needs cannot be got.`
        : `${amount}: ${act} from ${words.day(way.begin)} on${way.from.length > 0 ? ', when all of what it needs is there' : ''}, ready on ${words.day(way.on)} (${days(way.leadDays)}).`
    }
    case 'move':
      return way.on === null
        ? `${amount}: cannot be moved from where it is held.`
        : `${amount}: moved from another site, here on ${words.day(way.on)} (${days(way.leadDays)}).`
    case 'none':
      return `${amount}: there is no way to get it (${way.reason}).`
  }
}
