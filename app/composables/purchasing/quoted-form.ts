import type { QuotedRow, RequestLine } from '~~/shared/purchasing/quotations'

/** What is typed of one line of a quotation; an empty price: they do not quote it. */
export interface QuotedForm {
  readonly lineId: number
  unit: string
  price: string
  minimum: string
  multiple: string
  leadDays: string
  tiers: { fromQuantity: string; price: string }[]
}

/** What a supplier asks for a line: as it was recorded, or as it was read from their file. */
export type QuotedTerms = Pick<QuotedRow, 'lineId' | 'unit' | 'price' | 'minimum' | 'multiple' | 'tiers'> & {
  readonly leadDays: number | string
}

/** What was quoted of a line before, or an empty one in the unit that was asked for. */
export function quotedForm(
  asked: RequestLine,
  quoted: QuotedTerms | undefined,
  asTyped: (decimal: string) => string,
): QuotedForm {
  const typed = (decimal: string | undefined): string =>
    decimal === undefined || decimal === '0' ? '' : asTyped(decimal)
  return {
    lineId: asked.id,
    unit: quoted?.unit ?? asked.unit,
    price: quoted?.price ?? '',
    minimum: typed(quoted?.minimum),
    multiple: typed(quoted?.multiple),
    leadDays: quoted ? String(quoted.leadDays) : '',
    tiers: quoted?.tiers.map(({ fromQuantity, price }) => ({ fromQuantity: typed(fromQuantity), price })) ?? [],
  }
}

/** The line as it is recorded; a lead time that is no whole number is sent as it is, and refused beside its field. */
export const quotedBody = (form: QuotedForm, decimalSign: '.' | ','): object => ({
  ...form,
  minimum: readNumber(form.minimum, decimalSign) || '0',
  multiple: readNumber(form.multiple, decimalSign) || '0',
  leadDays: /^\d+$/.test(form.leadDays.trim()) ? Number(form.leadDays) : form.leadDays,
  tiers: form.tiers
    .filter((tier) => tier.fromQuantity !== '' || tier.price !== '')
    .map(({ fromQuantity, price }) => ({ fromQuantity: readNumber(fromQuantity, decimalSign), price })),
})
