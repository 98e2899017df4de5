interface Received {
  readonly lines: readonly {
    readonly quantity: string
    readonly symbol: string
    readonly code: string
    readonly residue: string
    readonly residueUnit: string
  }[]
  readonly brokenDown: readonly {
    readonly quantity: string
    readonly symbol: string
    readonly code: string
    readonly number: string
    readonly lots: readonly string[]
  }[]
  readonly inspections: readonly { readonly number: string; readonly code: string; readonly lot: string }[]
}

/** What came in, with what did not fall on a finest step, what was broken down on arrival, and what is inspected. */
export function receivedText({ lines, brokenDown, inspections }: Received, symbolOf: (unit: string) => string): string {
  const came = lines.map((line) => {
    const residue = line.residue === '0' ? '' : ` (residue ${line.residue} ${symbolOf(line.residueUnit)})`
    return `${line.quantity} ${line.symbol} ${line.code}${residue}`
  })
  const broken = brokenDown.map(({ quantity, symbol, code, number, lots }) => {
    const into = lots.length > 0 ? `, lot ${lots.join(', ')}` : ''
    return ` ${quantity} ${symbol} ${code} broken down on arrival as ${number}${into}.`
  })
  const held = inspections.map(
    ({ number, code, lot }) => ` ${code}${lot ? ` lot ${lot}` : ''} waits on hold for inspection ${number}.`,
  )
  return `Received ${came.join(', ')}.${broken.join('')}${held.join('')}`
}
