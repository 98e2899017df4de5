/**
 * The point of the unit cube where a function is least, as far as a search finds it from each start.
 *
 * The simplex of Nelder & Mead, held within the cube; starts lie where smoothing weights usually end.
 *
 * Cost:   some 60 evaluations a start and dimension.
 * Source: Nelder & Mead, A simplex method for function minimization, Computer Journal 7 (1965).
 */
export function minimise(
  f: (x: readonly number[]) => number,
  starts: readonly (readonly number[])[],
  steps = 120,
): { readonly x: number[]; readonly value: number } {
  let best: { x: number[]; value: number } | null = null
  for (const start of starts) {
    const found = search(f, start, steps)
    if (best === null || found.value < best.value) {
      best = found
    }
  }
  // Once more from the best: a simplex that has collapsed opens again. One dimension has no corner to collapse into.
  return starts[0]!.length === 1
    ? best!
    : [search(f, best!.x, steps), best!].reduce((a, b) => (b.value <= a.value ? b : a))
}

interface Corner {
  x: number[]
  value: number
}

function search(f: (x: readonly number[]) => number, start: readonly number[], steps: number): Corner {
  const corner = (x: number[]): Corner => {
    const held = x.map((v) => Math.min(1, Math.max(0, v)))
    return { x: held, value: f(held) }
  }
  const simplex = [
    corner([...start]),
    ...start.map((_, index) => corner(start.map((v, i) => (i === index ? v + (v > 0.6 ? -0.25 : 0.25) : v)))),
  ]
  const n = start.length
  /** All corners but the best go half the way towards it. */
  const shrink = (): void => {
    for (let i = 1; i <= n; i++) {
      simplex[i] = corner(simplex[i]!.x.map((v, d) => (v + simplex[0]!.x[d]!) / 2))
    }
  }
  for (let step = 0; step < steps; step++) {
    simplex.sort((a, b) => a.value - b.value)
    const worst = simplex[n]!
    if (worst.value - simplex[0]!.value <= 1e-7 * Math.abs(simplex[0]!.value) + 1e-300) {
      break
    }
    const centre = start.map((_, i) => simplex.slice(0, n).reduce((sum, c) => sum + c.x[i]!, 0) / n)
    const stepTowards = (t: number): Corner => corner(centre.map((c, i) => c + t * (c - worst.x[i]!)))
    const reflected = stepTowards(1)
    if (reflected.value < simplex[0]!.value) {
      const further = stepTowards(2)
      simplex[n] = further.value < reflected.value ? further : reflected
    } else if (reflected.value < simplex[n - 1]!.value) {
      simplex[n] = reflected
    } else {
      const nearer = reflected.value < worst.value ? stepTowards(0.5) : stepTowards(-0.5)
      if (nearer.value < Math.min(worst.value, reflected.value)) {
        simplex[n] = nearer
      } else {
        shrink()
      }
    }
  }
  return simplex.reduce((a, b) => (b.value < a.value ? b : a))
}
