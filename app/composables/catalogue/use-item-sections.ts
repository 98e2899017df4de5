import { useLocalStorage } from '@vueuse/core'
import { MARK_NAMES, MARKS } from '~~/core/stock/levels'
import type { ItemForm } from './use-item-form'

export type SectionKey = 'basics' | 'units' | 'supply' | 'selling' | 'marks' | 'codes' | 'substitutes' | 'texts'
interface SheetOf {
  readonly supplier: string | null
  readonly group: string
}

/** Which fields of an item stand in which section; a fault opens it. */
const FIELDS: Readonly<Record<SectionKey, readonly string[]>> = {
  basics: ['code', 'name', 'name2', 'groupId', 'kind', 'status'],
  units: ['stockUnit', 'buyingUnit', 'sellingUnit', 'makingUnit', 'finestStep', 'relations'],
  supply: [
    'source',
    'fromSiteId',
    'leadDays',
    'tracking',
    'shelfLifeDays',
    'usualOrder',
    'orderRule',
    'coverDays',
    'orderCost',
    'holdingPercent',
    'maximumOrder',
    'overDelivery',
    'pullInDays',
    'costing',
    'kitPolicy',
    'terms',
  ],
  selling: ['price', 'lowestPrice', 'highestPrice', 'standardCost', 'prices'],
  marks: [...MARKS, 'marks'],
  codes: ['codes'],
  substitutes: ['substitutes'],
  texts: ['purchaseText', 'salesText', 'note', 'links', 'pictureId'],
}

/** The sections of an item's page: each with a key, and folded with what it says in a line. */
export function useItemSections(
  form: Ref<ItemForm>,
  sheet: () => SheetOf | null | undefined,
  fields: Ref<Record<string, string>>,
  begin: readonly SectionKey[] = [],
) {
  const references = useReferences()
  const { price } = usePrint()
  const opened =
    begin.length > 0
      ? ref(
          Object.fromEntries(Object.keys(FIELDS).map((key) => [key, begin.includes(key as SectionKey)])) as Record<
            SectionKey,
            boolean
          >,
        )
      : useLocalStorage<Record<SectionKey, boolean>>('tsumiki-item-sections', {
          basics: false,
          units: false,
          supply: true,
          selling: false,
          marks: false,
          codes: false,
          substitutes: false,
          texts: false,
        })
  const count = (list: readonly unknown[], singular: string, many: string): string =>
    list.length === 0 ? '' : `${list.length} ${plural(list.length, singular, many)}`
  const summary: Readonly<Record<SectionKey, () => string>> = {
    basics: () =>
      [sheet()?.group, form.value.name2, form.value.kind === 'service' ? 'service' : '', form.value.status]
        .filter(Boolean)
        .join(' · '),
    units: () =>
      [
        `held in ${references.unitName(form.value.stockUnit)}`,
        form.value.buyingUnit === form.value.stockUnit ? '' : `bought in ${references.unitName(form.value.buyingUnit)}`,
        form.value.sellingUnit === form.value.stockUnit ? '' : `sold in ${references.unitName(form.value.sellingUnit)}`,
        ...form.value.relations.map(
          (r) => `1 ${references.unitName(r.unit)} = ${r.per} ${references.symbol(r.ofUnit)}`,
        ),
      ]
        .filter(Boolean)
        .join(' · '),
    supply: () =>
      [
        form.value.source,
        sheet()?.supplier ?? '',
        form.value.tracking === 'lot' ? 'by lot' : '',
        form.value.shelfLifeDays ? `keeps ${form.value.shelfLifeDays} days` : '',
        count(
          form.value.terms.flatMap((t) => t.tiers),
          'price tier',
          'price tiers',
        ),
      ]
        .filter(Boolean)
        .join(' · '),
    selling: () =>
      [
        form.value.price && /^\d+(\.\d+)?$/.test(form.value.price)
          ? `${price(form.value.price)} for one ${references.symbol(form.value.sellingUnit)}`
          : 'no price',
        count(form.value.prices, 'price more', 'prices more'),
      ]
        .filter(Boolean)
        .join(' · '),
    marks: () =>
      [
        ...MARKS.filter((mark) => form.value[mark] !== '' && form.value[mark] !== '0').map(
          (mark) => `${MARK_NAMES[mark]} ${form.value[mark]}`,
        ),
        count(form.value.marks, 'season or site', 'seasons or sites'),
      ]
        .filter(Boolean)
        .join(' · ') || 'none set',
    codes: () => form.value.codes.map((code) => code.code).join(' · ') || 'its own code only',
    substitutes: () => count(form.value.substitutes, 'substitute', 'substitutes') || 'none',
    texts: () =>
      [
        form.value.pictureId ? 'picture' : '',
        form.value.purchaseText || form.value.salesText ? 'texts' : '',
        count(form.value.links, 'link', 'links'),
      ]
        .filter(Boolean)
        .join(' · ') || 'none',
  }
  const TITLES: readonly (readonly [SectionKey, string, string])[] = [
    ['basics', 'Name and group', 'g'],
    ['units', 'Units and packs', 'u'],
    ['supply', 'Supply', 's'],
    ['selling', 'Selling', 'p'],
    ['marks', 'Stock marks', 'm'],
    ['codes', 'Codes and labels', 'k'],
    ['substitutes', 'Substitutes', 'e'],
    ['texts', 'Texts and picture', 't'],
  ]
  const belongs = (key: SectionKey, field: string): boolean =>
    FIELDS[key].some((own) => field === own || field.startsWith(`${own}.`))
  const SECTIONS = TITLES.map(([key, title, shortcut]) => ({
    key,
    title,
    shortcut,
    summary: computed(summary[key]),
    faults: computed(() => Object.keys(fields.value).filter((field) => belongs(key, field)).length),
  }))
  watch(fields, (faults) => {
    for (const { key } of SECTIONS) {
      if (Object.keys(faults).some((field) => belongs(key, field))) {
        opened.value[key] = true
      }
    }
  })
  async function toggle(key: SectionKey): Promise<void> {
    opened.value[key] = !opened.value[key]
    if (!opened.value[key]) {
      return
    }
    await nextTick()
    const section = [...document.querySelectorAll('form[data-saves] section, form[data-makes] section')][
      SECTIONS.findIndex((s) => s.key === key)
    ]
    section?.scrollIntoView({ block: 'nearest' })
    section?.querySelector<HTMLElement>('div :is(input,textarea,button[aria-haspopup=listbox])')?.focus()
  }
  return { SECTIONS, opened, toggle }
}
