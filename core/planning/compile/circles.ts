/**
 * Which circle each node lies on: nodes that reach each other have the same number, all others have one of their own.
 *
 * `from` and `to`: the nodes at both ends of each edge. Cost: about one visit per node and edge.
 * Source: R. Tarjan, Depth-first search and linear graph algorithms (1972), strongly connected components.
 */
export function circlesOf(count: number, from: readonly number[], to: readonly number[]): Int32Array {
  const { first, children } = childrenOf(count, from, to)
  const circles = new Int32Array(count).fill(-1)
  /** The order in which nodes were met, from 1; and the first met that each can go back to. */
  const met = new Int32Array(count)
  const back = new Int32Array(count)
  const next = first.slice()
  const path: number[] = []
  /** Met, and not yet known to be of a circle. */
  const open: number[] = []
  let meetings = 0
  for (let root = 0; root < count; root++) {
    if (met[root] === 0) {
      walkFrom(root)
    }
  }
  return circles

  function meet(node: number): void {
    meetings++
    met[node] = back[node] = meetings
    path.push(node)
    open.push(node)
  }

  function walkFrom(root: number): void {
    meet(root)
    while (path.length > 0) {
      const node = path.at(-1)!
      if (next[node]! < first[node + 1]!) {
        const child = children[next[node]!++]!
        if (met[child] === 0) {
          meet(child)
        } else if (circles[child] === -1) {
          back[node] = Math.min(back[node]!, met[child]!)
        }
        continue
      }
      path.pop()
      const before = path.at(-1)
      if (before !== undefined) {
        back[before] = Math.min(back[before]!, back[node]!)
      }
      if (back[node] === met[node]) {
        close(node)
      }
    }
  }

  /** Whatever was met since a node that cannot go back further lies on a circle with it. */
  function close(node: number): void {
    for (;;) {
      const member = open.pop()!
      circles[member] = node
      if (member === node) {
        return
      }
    }
  }
}

/** The ends of the edges of each node, side by side from `first[node]` on. */
export function childrenOf(
  count: number,
  from: readonly number[],
  to: readonly number[],
): { readonly first: Int32Array; readonly children: Int32Array } {
  const first = new Int32Array(count + 1)
  for (const node of from) {
    first[node + 1]!++
  }
  for (let node = 0; node < count; node++) {
    first[node + 1]! += first[node]!
  }
  const place = first.slice()
  const children = new Int32Array(from.length)
  for (const [edge, node] of from.entries()) {
    children[place[node]!++] = to[edge]!
  }
  return { first, children }
}
