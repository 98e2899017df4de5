/**
 * The planned orders of every node in columns; days count from the start of the plan. A node's orders lie together, by
 * due date.
 */
export class OrderTable {
  due: Int32Array
  release: Int32Array
  quantity: Float64Array
  /** Which of the node's fixed orders it is, or −1. */
  fixed: Int16Array
  readonly first: Int32Array
  readonly count: Int32Array
  /** How many fit where a node's orders lie. */
  private readonly room: Int32Array
  private used = 0

  constructor(nodes: number) {
    // A node has some dozen orders a year: what grows in small steps is copied, and collected, again and again.
    const size = Math.max(1024, nodes * 20)
    this.due = new Int32Array(size)
    this.release = new Int32Array(size)
    this.quantity = new Float64Array(size)
    this.fixed = new Int16Array(size)
    this.first = new Int32Array(nodes)
    this.count = new Int32Array(nodes)
    this.room = new Int32Array(nodes)
  }

  begin(node: number): void {
    this.first[node] = this.used
    this.count[node] = 0
  }

  /** Gives up what was pushed for a node since it began. */
  drop(node: number): void {
    this.used = this.first[node]!
    this.count[node] = 0
  }

  /** Nothing more is pushed for a node. */
  end(node: number): void {
    this.room[node] = this.count[node]!
  }

  push(node: number, due: number, release: number, quantity: number, fixed: number): void {
    const index = this.used++
    if (index >= this.due.length) {
      this.grow()
    }
    this.due[index] = due
    this.release[index] = release
    this.quantity[index] = quantity
    this.fixed[index] = fixed
    this.count[node]!++
  }

  get size(): number {
    return this.used
  }

  /** Whether a node's orders are those that lay elsewhere before. */
  sameAs(node: number, first: number, count: number): boolean {
    if (count !== this.count[node]) {
      return false
    }
    const own = this.first[node]!
    for (let i = 0; i < count; i++) {
      if (
        this.due[first + i] !== this.due[own + i] ||
        this.release[first + i] !== this.release[own + i] ||
        this.quantity[first + i] !== this.quantity[own + i] ||
        this.fixed[first + i] !== this.fixed[own + i]
      ) {
        return false
      }
    }
    return true
  }

  /** Gives up what was pushed last for a node, and takes its orders from where they lay. */
  restore(node: number, first: number, count: number): void {
    this.used = this.first[node]!
    this.first[node] = first
    this.count[node] = count
  }

  /**
   * Puts what was pushed last for a node where its orders lay before, if there is room; else leaves some beside it. So
   * a plan that is changed again and again hardly grows.
   */
  settle(node: number, first: number): void {
    const own = this.first[node]!
    const count = this.count[node]!
    if (count > this.room[node]!) {
      this.room[node] = count + (count >> 2) + 4
      while (own + this.room[node]! > this.due.length) {
        this.grow()
      }
      this.used = own + this.room[node]!
      return
    }
    for (const column of [this.due, this.release, this.quantity, this.fixed]) {
      column.copyWithin(first, own, own + count)
    }
    this.restore(node, first, count)
  }

  /** Sees to it that so many more fit without a copy of everything. */
  spare(more: number): void {
    while (this.due.length - this.used < more) {
      this.grow()
    }
  }

  private grow(): void {
    const size = this.due.length + (this.due.length >> 1)
    const wider = <T extends Int32Array | Int16Array | Float64Array>(made: T, from: T): T => {
      made.set(from)
      return made
    }
    this.due = wider(new Int32Array(size), this.due)
    this.release = wider(new Int32Array(size), this.release)
    this.quantity = wider(new Float64Array(size), this.quantity)
    this.fixed = wider(new Int16Array(size), this.fixed)
  }
}
