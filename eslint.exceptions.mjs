/**
 * What is larger than the rules allow, and why: at most twelve. Anything else that grows is split.
 *
 * Most are inner loops that a plan or a cut goes through for every item, day, link or length. What a step hands on to
 * the next would be built anew each time; for the links between items that was measured (`npm run bench`).
 */
export const EXCEPTIONS = [
  {
    file: 'core/planning/netting/net-node.ts',
    rules: ['complexity', 'max-depth', 'max-statements'],
    reason: 'the walk of a node through its days: the inner loop of every plan, what-if and promise',
  },
  {
    file: 'core/planning/netting/net-plan.ts',
    rules: ['complexity', 'max-statements'],
    reason: 'gathers what a node is asked for, order by order: as often as there are links and orders',
  },
  {
    file: 'core/planning/compile/link-table.ts',
    rules: ['complexity', 'max-params', 'max-statements'],
    reason: 'lays a million links into columns; with lists on the way a plan took 16 % longer',
  },
  {
    file: 'core/structure/explode.ts',
    rules: ['max-statements'],
    reason: 'one pass over all lines below an item, with its columns at hand',
  },
  {
    file: 'core/structure/where-used.ts',
    rules: ['max-statements'],
    reason: 'the same pass upwards',
  },
  {
    file: 'core/structure/roll-ups/exact-sums.ts',
    rules: ['max-statements'],
    reason: 'adds a product of fractions in plain numbers where they are exact, the step that every roll-up is made of',
  },
  {
    file: 'core/cutting/exact.ts',
    rules: ['max-statements'],
    reason: 'the recursion over lengths lies inside the loop over pieces and shares its tables',
  },
  {
    file: 'core/cutting/simplex.ts',
    rules: ['complexity', 'max-depth', 'max-statements'],
    reason: 'a pivot is one algorithm over one matrix, as its source writes it down',
  },
  {
    file: 'tests/planning/naive-plan.ts',
    rules: ['complexity', 'max-depth'],
    reason: 'the slow, obvious twin of the engine reads as the rules of planning are written, one after another',
  },
]

export const exceptions = EXCEPTIONS.map(({ file, rules }) => ({
  files: [file],
  rules: Object.fromEntries(rules.map((rule) => [rule, 'off'])),
}))
