import { compareIds } from '../input'
import { childrenOf, circlesOf } from './circles'

/** Edges between nodes by their numbers, side by side. */
export interface Edges {
  readonly from: readonly number[]
  readonly to: readonly number[]
}

/**
 * Orders nodes by low-level code (the longest way down from a node that nothing uses), then by id.
 *
 * `needs`: from each node to what it is made of. `gives`: from each node to what its orders bring beside; those count
 * as ways down too, unless they lie in a circle.
 * Shape:  `order` lists node numbers; `levels` by node number; `loops` each loop of needs that there is, as node
 *         numbers, the first repeated last. The
 *         nodes of a loop are ordered as if they were made of nothing.
 * Cost:   about one visit per node and edge. Source: A. B. Kahn, Topological sorting of large networks (1962).
 */
export function orderByLevel(
  ids: readonly string[],
  needs: Edges,
  gives: Edges,
): { readonly order: Int32Array; readonly levels: Int32Array; readonly loops: readonly (readonly number[])[] } {
  const dropped = new Set<number>()
  const loops: number[][] = []
  for (;;) {
    const { levels, seen, waiting } = sweep(ids.length, needs, dropped)
    if (seen === ids.length) {
      const counted = gives.from.length === 0 ? levels : levelsWithGiven(ids.length, needs, gives, dropped)
      const rank = Int32Array.from({ length: ids.length }, (_, i) => i)
      const order = rank.sort((a, b) => counted[a]! - counted[b]! || compareIds(ids[a]!, ids[b]!))
      return { order, levels: counted, loops: loops.sort((a, b) => compareIds(ids[a[0]!]!, ids[b[0]!]!)) }
    }
    const path = loopAmong(ids, needs, waiting, dropped)
    loops.push(path)
    for (const node of path) {
      dropped.add(node)
    }
  }
}

/** Levels on which what gives stands above what it gives to; what gives in a circle does not count. */
function levelsWithGiven(count: number, needs: Edges, gives: Edges, dropped: ReadonlySet<number>): Int32Array {
  const all = among(
    { from: [...needs.from, ...gives.from], to: [...needs.to, ...gives.to] },
    (from) => !dropped.has(from),
  )
  const circles = circlesOf(count, all.from, all.to)
  const straight = among(gives, (from, to) => circles[from] !== circles[to])
  return sweep(count, { from: [...needs.from, ...straight.from], to: [...needs.to, ...straight.to] }, dropped).levels
}

function among({ from, to }: Edges, keeps: (from: number, to: number) => boolean): Edges {
  const kept = from.map((node, edge) => keeps(node, to[edge]!))
  return { from: from.filter((_, edge) => kept[edge]), to: to.filter((_, edge) => kept[edge]) }
}

function sweep(
  count: number,
  edges: Edges,
  dropped: ReadonlySet<number>,
): { levels: Int32Array; seen: number; waiting: Int32Array } {
  const { from, to } = dropped.size === 0 ? edges : among(edges, (node) => !dropped.has(node))
  const { first, children } = childrenOf(count, from, to)
  const waiting = new Int32Array(count)
  for (const child of to) {
    waiting[child]!++
  }
  const levels = new Int32Array(count)
  const queue = placesOfZero(waiting)
  let seen = 0
  for (; seen < queue.length; seen++) {
    const node = queue[seen]!
    for (let e = first[node]!; e < first[node + 1]!; e++) {
      const child = children[e]!
      levels[child] = Math.max(levels[child]!, levels[node]! + 1)
      if (--waiting[child]! === 0) {
        queue.push(child)
      }
    }
  }
  return { levels, seen, waiting }
}

function placesOfZero(counts: Int32Array): number[] {
  const places: number[] = []
  for (let i = 0; i < counts.length; i++) {
    if (counts[i] === 0) {
      places.push(i)
    }
  }
  return places
}

/**
 * Some loop among the nodes that wait for each other, begun at its first id. Whoever still waits has a parent that
 * does: walking up must come round.
 */
function loopAmong(
  ids: readonly string[],
  { from, to }: Edges,
  waiting: Int32Array,
  dropped: ReadonlySet<number>,
): number[] {
  const parent = new Map<number, number>()
  let begin = -1
  for (let e = 0; e < from.length; e++) {
    const [up, down] = [from[e]!, to[e]!]
    if (dropped.has(up) || waiting[down] === 0 || waiting[up] === 0) {
      continue
    }
    const known = parent.get(down)
    if (known === undefined || compareIds(ids[up]!, ids[known]!) < 0) {
      parent.set(down, up)
    }
    if (begin < 0 || compareIds(ids[down]!, ids[begin]!) < 0) {
      begin = down
    }
  }
  const walked: number[] = []
  const place = new Map<number, number>()
  let node = begin
  for (; !place.has(node); node = parent.get(node)!) {
    place.set(node, walked.length)
    walked.push(node)
  }
  const ring = walked.slice(place.get(node)!).reverse()
  const lowest = ring.reduce((least, node, i) => (compareIds(ids[node]!, ids[ring[least]!]!) < 0 ? i : least), 0)
  const turned = [...ring.slice(lowest), ...ring.slice(0, lowest)]
  return [...turned, turned[0]!]
}
