/** What a term means, and an example with its figures. */
export interface HelpText {
  readonly text: string
  readonly example: string
}

/**
 * Terms of planning, cost and units that a field's label uses; whoever knows the trade knows them, and whoever does not
 * finds them here.
 */
export const HELP_TEXTS: Readonly<Record<string, HelpText>> = {
  'Finest step': {
    text: 'The smallest quantity that the ledger records of this item, in its stock unit. What falls between two steps is shown as residue.',
    example: 'At 0.01 m, 3.333 m are recorded as 3.33 m, and 0.003 m are told.',
  },
  'Lot-sizing rule': {
    text: 'How much a plan orders at once where something is missing.',
    example:
      'Lot-for-lot orders the 12 that are missing; a fixed order quantity of 50 orders 50; two weeks of supply order what two weeks need.',
  },
  'Fixed order quantity': {
    text: 'The quantity of one order under that lot-sizing rule, or several of them where one does not suffice.',
    example: '50: for 70 missing, 100 are ordered.',
  },
  'Maximum order quantity': {
    text: 'No order is for more; what is needed beyond it goes into further orders.',
    example: '40: for 100 missing, orders of 40, 40 and 20.',
  },
  'Days it covers': {
    text: 'Period of supply: an order is for all that is missing within so many days.',
    example: '14: what is missing from the 5th to the 18th comes with one order.',
  },
  'Pull-in window (days)': {
    text: 'An open order that comes within so many days after the shortage is moved to an earlier day instead of ordering anew.',
    example: '7: 10 are short on the 5th, an order of 20 is due on the 9th: the plan says to ask for it sooner.',
  },
  'Lead time (working days)': {
    text: 'From the order until the goods are there, in working days of whoever delivers or makes them.',
    example: '10 from Monday 5 Oct: there on Monday 19 Oct, if Saturday and Sunday are closed.',
  },
  'Safety stock': {
    text: 'What a plan keeps in reserve: below it, something is missing. It may be used in need.',
    example: '20: of 50 there, a plan counts on 30.',
  },
  'Reorder point': {
    text: 'Where the stock falls to this, it is time to order: what is used during the lead time, and the safety stock.',
    example: '5 a day, 10 days of lead time, 20 in reserve: 70.',
  },
  Maximum: {
    text: 'Under “order up to maximum”, an order fills the stock up to this.',
    example: '200: at 60 there and none coming, 140 are ordered.',
  },
  'Costing method': {
    text: 'What goods cost that leave: the moving average of what came, the first that came, the last, a standard, or the latest purchase.',
    example: '10 at 2.00 and 10 at 3.00 are there; 10 leave: at the average 25.00, first in first out 20.00.',
  },
  'Standard cost': {
    text: 'The cost that is set beforehand; what something really cost above or below it is a variance.',
    example: '3.50: a receipt at 4.00 puts 3.50 into stock and 0.50 into the price variance.',
  },
  Tracking: {
    text: 'Whether goods are only counted, told apart by lot (where they came from, until when they last), or each piece is measured.',
    example: 'Glue by lot, for its date; cloth by piece, for the length of each roll.',
  },
  'Forecast placement': {
    text: 'On which day of a week or month its forecast is wanted.',
    example: 'First day: 20 for the week of the 19th are wanted on the 19th; spread: 4 on each working day.',
  },
  Kerf: {
    text: 'What the blade takes away with each cut.',
    example: '3 mm: two lengths of 500 mm out of a bar of 1 003 mm.',
  },
  'Shortest usable offcut': {
    text: 'What is left of a piece goes back on the shelf from this length on; shorter is waste.',
    example: '0.5 m: 0.7 m are kept, 0.3 m are not.',
  },
}
