import * as z from 'zod'

const number = z.union([z.string(), z.number().transform(String)])
const code = z.string('Give a code.').min(1, 'Give a code.')
const words = z.string().default('')

/**
 * Bills of materials, kits and break-downs as a file; numbers are exact text (“0.4”, “1/3”).
 * docs/formats/structures.schema.json is made from this.
 */
export const StructuresFile = z.object({
  format: z.literal('tsumiki structures', 'This is no file of structures.'),
  version: z.literal(1, 'Only version 1 is known.'),
  bills: z
    .array(
      z.object({
        item: code,
        revision: z.number().int().min(1).optional(),
        from_on: z.string().nullable().default(null),
        batch: number.default('1'),
        unit: code,
        yield_percent: number.default('100'),
        work_minutes: number.default('0'),
        minutes_per_unit: number.default('0'),
        work_rate: number.default('0'),
        other_cost: number.default('0'),
        note: words,
        lines: z
          .array(
            z.object({
              component: code,
              quantity: number,
              unit: code,
              basis: z.enum(['per batch', 'per build']).default('per batch'),
              scrap_percent: number.default('0'),
              offset_days: z.number().int().default(0),
              phantom: z.boolean().default(false),
              note: words,
              substitutes: z
                .array(z.object({ substitute: code, rank: z.number().int().default(1), ratio: number.default('1') }))
                .default([]),
            }),
          )
          .default([]),
        by_products: z
          .array(z.object({ by_product: code, quantity: number, unit: code, share_percent: number.default('0') }))
          .default([]),
        steps: z.array(z.string()).default([]),
      }),
    )
    .default([]),
  break_downs: z
    .array(
      z.object({
        item: code,
        rank: z.number().int().min(1).optional(),
        take: number.default('1'),
        unit: code,
        loss: number.default('0'),
        loss_unit: z.string().nullable().default(null),
        loss_written_off: z.boolean().default(false),
        on_arrival: z.boolean().default(false),
        note: words,
        outputs: z
          .array(z.object({ output: code, gives: number, unit: code, share: number.default('1') }))
          .min(1, 'Say what it gives.'),
      }),
    )
    .default([]),
})
export type StructuresFile = z.output<typeof StructuresFile>
