import { asRecorded, isReadable, judgeSamples, type Characteristic } from '~~/core/inspection'
import type { Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { InspectionResults } from '~~/shared/inspection/requests'
import { lockAsSeen, saveDocument } from '../../documents'

/**
 * Keeps what was found so far; the goods stay on hold.
 *
 * Errors: `invalid-input` beside each value that cannot be read; `not-now` once it is decided; `stale-version`.
 */
export async function recordResults(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: InspectionResults,
): Promise<{ version: number }> {
  const inspection = await lockAsSeen(tx, 'inspection', id, edit.version, ['open'])
  const samples = readSamples(inspection.plan.characteristics, edit.samples, inspection.sampleSize)
  const { failed } = judgeSamples(inspection.plan.characteristics, samples, inspection.accept)
  return saveDocument(tx, actor, 'inspection', inspection, {
    set: { samples: samples as string[][], instrument: edit.instrument, pictureId: edit.pictureId, failed },
  })
}

/** Values as they are kept: each sample with one for every characteristic. */
function readSamples(
  characteristics: readonly Characteristic[],
  typed: readonly (readonly string[])[],
  size: number,
): readonly (readonly string[])[] {
  if (typed.length > size) {
    throw new Refusal('invalid-input', `The sample has ${size}, not ${typed.length}.`, {
      [`samples.${size}.0`]: `The sample has ${size}.`,
    })
  }
  const faults: Record<string, string> = {}
  const read = Array.from({ length: size }, (_, sample) =>
    characteristics.map((characteristic, index) => {
      const value = asRecorded(characteristic, typed[sample]?.[index] ?? '')
      const fault = faultOf(characteristic, value)
      if (fault) {
        faults[`samples.${sample}.${index}`] = fault
      }
      return value
    }),
  )
  const [first] = Object.values(faults)
  if (first) {
    throw new Refusal('invalid-input', first, faults)
  }
  return read
}

function faultOf(characteristic: Characteristic, value: string): string | null {
  if (isReadable(characteristic, value)) {
    return null
  }
  const { kind, name } = characteristic
  return kind === 'measured'
    ? `“${value}” is no measure for ${name}. Write for example 2.05.`
    : `Say yes or no for ${name}.`
}
