import type { Structure, StructureLine } from './compile'

/** The first loop found, as a path whose first item is repeated last; null where there is none. */
export function findLoop(lines: readonly Pick<StructureLine, 'parent' | 'child'>[]): readonly string[] | null {
  const children = new Map<string, string[]>()
  for (const { parent, child } of lines) {
    const list = children.get(parent)
    if (list) {
      list.push(child)
    } else {
      children.set(parent, [child])
    }
  }
  const done = new Set<string>()
  const onPath = new Set<string>()
  for (const start of children.keys()) {
    const stack: { item: string; next: number }[] = done.has(start) ? [] : [{ item: start, next: 0 }]
    onPath.clear()
    while (stack.length > 0) {
      const top = stack.at(-1)!
      onPath.add(top.item)
      const child = children.get(top.item)?.[top.next++]
      if (child === undefined) {
        done.add(top.item)
        onPath.delete(top.item)
        stack.pop()
      } else if (onPath.has(child)) {
        const path = stack.map((step) => step.item)
        return [...path.slice(path.indexOf(child)), child]
      } else if (!done.has(child)) {
        stack.push({ item: child, next: 0 })
      }
    }
  }
  return null
}

/**
 * The loop that lines from `parent` to `children` would close in a structure without loops; null where they close none.
 *
 * Cost: one visit per item and line below the children.
 */
export function loopThrough(
  structure: Structure,
  parent: string,
  children: readonly string[],
): readonly string[] | null {
  const target = structure.at.get(parent)
  const came = new Map<number, number>()
  for (const name of children) {
    if (name === parent) {
      return [parent, parent]
    }
    const start = structure.at.get(name)
    // Below an item stand only items behind it, so nothing behind the target leads to it.
    if (target === undefined || start === undefined || start > target || came.has(start)) {
      continue
    }
    came.set(start, -1)
    if (reaches(structure, start, target, came)) {
      return [parent, ...pathTo(structure, came, target)]
    }
  }
  return null
}

/**
 * Whether the target is below an item; `came` keeps how each item on the way was reached, and what is in it is not
 * walked again.
 */
function reaches(structure: Structure, start: number, target: number, came: Map<number, number>): boolean {
  const stack = [start]
  for (let item = stack.pop(); item !== undefined; item = stack.pop()) {
    for (let line = structure.first[item]!; line < structure.first[item + 1]!; line++) {
      const child = structure.child[line]!
      if (child > target || came.has(child)) {
        continue
      }
      came.set(child, item)
      if (child === target) {
        return true
      }
      stack.push(child)
    }
  }
  return false
}

function pathTo(structure: Structure, came: ReadonlyMap<number, number>, end: number): string[] {
  const path: string[] = []
  for (let item = end; item >= 0; item = came.get(item)!) {
    path.unshift(structure.items[item]!)
  }
  return path
}
