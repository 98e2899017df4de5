/** The smallest of what waits first. */
export class Heap {
  private readonly list: number[] = []
  constructor(start: readonly number[]) {
    for (const node of start) {
      this.add(node)
    }
  }
  add(entry: number): void {
    const { list } = this
    let index = list.push(entry) - 1
    for (let up = (index - 1) >> 1; index > 0 && list[up]! > list[index]!; index = up, up = (index - 1) >> 1) {
      ;[list[index], list[up]] = [list[up]!, list[index]!]
    }
  }

  take(): number | undefined {
    const { list } = this
    const first = list[0]
    const last = list.pop()
    if (list.length === 0) {
      return first
    }
    list[0] = last!
    for (let index = 0; ;) {
      let least = index
      for (const child of [2 * index + 1, 2 * index + 2]) {
        if (child < list.length && list[child]! < list[least]!) {
          least = child
        }
      }
      if (least === index) {
        return first
      }
      ;[list[index], list[least]] = [list[least]!, list[index]!]
      index = least
    }
  }
}
