/**
 * Orders nodes by low-level code (the longest way down from a node that nothing uses), then by id.
 *
 * Shape:  `order` lists node numbers; `levels` by node number; `loops` each loop that there is, as node numbers, the first repeated last. The nodes of
 *         a loop are ordered as if they were made of nothing.
 * Cost:   about one visit per node and edge. Source: A. B. Kahn, Topological sorting of large networks (1962).
 */
export function orderByLevel(
  ids: readonly string[],
  from: readonly number[],
  to: readonly number[],
): { readonly order: Int32Array; readonly levels: Int32Array; readonly loops: readonly (readonly number[])[] } {
  const dropped = new Set<number>()
  const loops: number[][] = []
  for (;;) {
    const { levels, seen, waiting } = sweep(ids.length, from, to, dropped)
    if (seen === ids.length) {
      const rank = Int32Array.from({ length: ids.length }, (_, i) => i)
      const order = rank.sort((a, b) => levels[a]! - levels[b]! || (ids[a]! < ids[b]! ? -1 : 1))
      return { order, levels, loops: loops.sort((a, b) => (ids[a[0]!]! < ids[b[0]!]! ? -1 : 1)) }
    }
    const path = loopAmong(ids, from, to, waiting, dropped)
    loops.push(path)
    for (const node of path) {
      dropped.add(node)
    }
  }
}

function sweep(
  count: number,
  from: readonly number[],
  to: readonly number[],
  dropped: ReadonlySet<number>,
): { levels: Int32Array; seen: number; waiting: Int32Array } {
  const first = new Int32Array(count + 1)
  const waiting = new Int32Array(count)
  for (let e = 0; e < from.length; e++) {
    if (!dropped.has(from[e]!)) {
      first[from[e]! + 1]!++
      waiting[to[e]!]!++
    }
  }
  for (let i = 0; i < count; i++) {
    first[i + 1]! += first[i]!
  }
  const next = first.slice()
  const children = new Int32Array(first[count]!)
  for (let e = 0; e < from.length; e++) {
    if (!dropped.has(from[e]!)) {
      children[next[from[e]!]!++] = to[e]!
    }
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

/** Some loop among the nodes that wait for each other, begun at its first id. Whoever still waits has a parent that does: walking up must come round. */
function loopAmong(
  ids: readonly string[],
  from: readonly number[],
  to: readonly number[],
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
    if (known === undefined || ids[up]! < ids[known]!) {
      parent.set(down, up)
    }
    if (begin < 0 || ids[down]! < ids[begin]!) {
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
  const lowest = ring.reduce((least, node, i) => (ids[node]! < ids[ring[least]!]! ? i : least), 0)
  const turned = [...ring.slice(lowest), ...ring.slice(0, lowest)]
  return [...turned, turned[0]!]
}
