/** The numbers behind a planned order, as they are told: quantities with their units, days in ISO 8601. */
export interface WhyNumbers {
  readonly kind: string
  readonly due: string
  readonly release: string
  readonly promised: string
  readonly leadDays: number
  readonly lateBy: number
  readonly fixed?: boolean
  readonly supplier: string | null
  readonly from: string | null
  readonly demandThatDay: string
  readonly balanceBefore: string
  readonly balanceAfter: string
  readonly safety: string
  readonly pulledIn: string | null
  readonly awaited: string | null
  readonly netRequirement: string
  readonly rule: string
  readonly byRule: string
  readonly ruleSize: string | null
  readonly split: number | null
  readonly minimum: string | null
  readonly multipleEntered: string | null
  readonly times: number
  readonly quantity: string
}
export interface WhyLink {
  readonly name: string
  readonly summary: string
}

const workingDays = (count: number): string => `${count} working ${plural(count, 'day', 'days')}`

function sizeSays({ rule, byRule, ruleSize, netRequirement, split }: WhyNumbers): string {
  const says: Readonly<Record<string, string>> = {
    exact: 'Lot-for-lot: what is missing is ordered, no more.',
    fixed: `Fixed order quantity: the least multiple of ${ruleSize} that covers ${netRequirement} is ${byRule}.`,
    cover: `Period of supply, ${ruleSize} days: the most that is missing on a day of them, with nothing further ordered, is ${byRule}.`,
    'up to': `Order up to maximum, ${ruleSize}: ${byRule}.`,
    economic: `The economic order quantity is ${ruleSize}, √(2 × a year's demand × the cost of an order ÷ the cost of holding one for a year); the least multiple of it that covers ${netRequirement} is ${byRule}.`,
    'least cost': `Least cost: of all ways to order in this plan the cheapest, with orders, holding and price, asks for ${byRule} here.`,
  }
  const said = says[rule] ?? ''
  return split ? `${said} More than one order may be for, so it is split into ${split}.` : said
}

function calendarSays(why: WhyNumbers, day: (iso: string) => string): string {
  const wait = why.kind === 'move' ? 'on the way' : 'of lead time'
  const said = `${workingDays(why.leadDays)} ${wait} before ${day(why.due)}: release on ${day(why.release)}.`
  const from = why.supplier ?? why.from ?? 'the workshop'
  return why.lateBy > 0
    ? `${said} It should have been released ${workingDays(why.lateBy)} ago; ${from} can have it there on ${day(why.promised)}.`
    : said
}

function netSays(why: WhyNumbers): string {
  const terms = [
    `${why.demandThatDay} wanted`,
    why.safety.startsWith('0 ') ? '' : ` + ${why.safety} safety stock to keep`,
    ` − ${why.balanceBefore} there`,
    why.pulledIn ? ` − ${why.pulledIn} pulled in to that day` : '',
    why.awaited ? ` − ${why.awaited} on order that comes later` : '',
  ]
  return `${terms.join('')} = ${why.netRequirement} missing.`
}

function termsSay(why: WhyNumbers): string {
  const terms = [
    why.minimum && `at least ${why.minimum}`,
    why.multipleEntered && `in steps of ${why.multipleEntered}; ${why.times} of them`,
  ].filter(Boolean)
  return terms.length === 0 ? '' : `${terms.join(', ')} make ${why.quantity}.`
}

/** Why an order is planned, link by link with its numbers; `day` prints a day. */
export function whyChain(why: WhyNumbers, day: (iso: string) => string): readonly WhyLink[] {
  const calendar = { name: 'Calendar', summary: calendarSays(why, day) }
  // What is missing has no say in an order that somebody has fixed.
  if (why.fixed) {
    const summary = 'Somebody has fixed this order: it stays as it is, whatever is missing. What it needs is planned.'
    return [{ name: 'Fixed', summary }, calendar]
  }
  return [
    {
      name: 'Demand',
      summary: `On ${day(why.due)}: wanted ${why.demandThatDay}; there before that ${why.balanceBefore}.`,
    },
    { name: 'Net requirement', summary: netSays(why) },
    { name: 'Lot size', summary: sizeSays(why) },
    { name: 'Supplier’s terms', summary: termsSay(why) },
    calendar,
    { name: 'After', summary: `Left at the end of that day: ${why.balanceAfter}.` },
  ].filter((link) => link.summary !== '')
}
