import type { ItemEdit } from '~~/shared/catalogue/item'
import type { GroupDefaults } from '~~/shared/catalogue/item-parts'
import { beginningStep, type UnitRow } from '~~/shared/catalogue/measure'
import { INHERITABLE, type Inheritable } from '~~/shared/catalogue/words'
import type { AsForm } from '../ui/as-form'

export type ItemForm = AsForm<ItemEdit>

/** Lists of an item, and the cells of which at least one is filled in a line that means something. */
const MEANT: Readonly<Record<string, readonly string[]>> = {
  relations: ['per'],
  codes: ['code'],
  terms: ['supplierId', 'price'],
  prices: ['price'],
  marks: ['safetyStock', 'reorderPoint', 'targetStock', 'maximumStock'],
  substitutes: ['itemId'],
  links: ['url'],
}

export function blankItem(groupId: number | null, summary: GroupDefaults): ItemForm {
  const own = {
    code: '',
    name: '',
    name2: '',
    groupId,
    kind: 'stocked',
    status: 'active',
    source: 'bought',
    fromSiteId: null,
    stockUnit: 'piece',
    buyingUnit: '',
    sellingUnit: '',
    makingUnit: '',
    finestStep: '1',
    tracking: 'none',
    costing: 'moving average',
    shelfLifeDays: '',
    leadDays: '0',
    usualOrder: '',
    orderRule: 'exact',
    coverDays: '',
    orderCost: '',
    holdingPercent: '',
    maximumOrder: '',
    overDelivery: '',
    pullInDays: '',
    safetyStock: '0',
    reorderPoint: '',
    targetStock: '',
    maximumStock: '',
    price: '',
    lowestPrice: '',
    highestPrice: '',
    standardCost: '',
    kitPolicy: 'sealed',
    purchaseText: '',
    salesText: '',
    note: '',
    pictureId: null,
    links: [],
    inherited: [],
    relations: [],
    codes: [],
    terms: [],
    prices: [],
    marks: [],
    substitutes: [],
  } as unknown as ItemForm
  own.inherited = INHERITABLE.filter((field) => summary[field] !== undefined)
  followGroup(own, summary)
  for (const field of ['buyingUnit', 'sellingUnit', 'makingUnit'] as const) {
    if (own[field] === '') {
      own[field] = own.stockUnit
    }
  }
  return own
}

/** Gives each inherited field what the group says. */
export function followGroup(form: ItemForm, summary: GroupDefaults): void {
  form.inherited = form.inherited.filter((field) => summary[field as Inheritable] !== undefined)
  for (const field of form.inherited as Inheritable[]) {
    form[field] = String(summary[field])
  }
}

/**
 * A new item that gets another stock unit begins with that unit’s finest step, unless one was typed or comes from the
 * group.
 */
export function followStockUnit(
  form: ItemForm,
  before: Pick<UnitRow, 'decimals'> | undefined,
  now: Pick<UnitRow, 'decimals'> | undefined,
): void {
  if (before && now && !form.inherited.includes('finestStep') && form.finestStep === beginningStep(before)) {
    form.finestStep = beginningStep(now)
  }
}

/** A new item that comes into a group takes over all that the group states, but for what was typed already. */
export function joinGroup(form: ItemForm, summary: GroupDefaults): void {
  const untouched = blankItem(null, {})
  const stockUnit = form.stockUnit
  const stated = INHERITABLE.filter(
    (field) =>
      summary[field] !== undefined &&
      (form.inherited.includes(field) || String(form[field]) === String(untouched[field])),
  )
  // What was inherited from the group before and is not stated by this one begins anew.
  for (const field of form.inherited as Inheritable[]) {
    if (summary[field] === undefined) {
      form[field] = untouched[field]
    }
  }
  form.inherited = stated
  followGroup(form, summary)
  for (const field of ['buyingUnit', 'sellingUnit', 'makingUnit'] as const) {
    if (!form.inherited.includes(field) && form[field] === stockUnit) {
      form[field] = form.stockUnit
    }
  }
}

/** What is sent: without lines that are only begun, and without what the page only shows. */
export function itemOf(form: ItemForm): ItemForm {
  const sent = { ...form } as ItemForm & { groupSays?: unknown; id?: unknown; version?: unknown }
  delete sent.groupSays
  delete sent.id
  delete sent.version
  for (const [list, keys] of Object.entries(MEANT)) {
    ;(sent as Record<string, unknown>)[list] = (
      form[list as keyof ItemForm] as unknown as Record<string, unknown>[]
    ).filter((line) => keys.some((key) => line[key] !== '' && line[key] !== null))
  }
  return sent
}

/**
 * Takes what the server has worked out of the group's word into the form, but for what was changed while it was on its
 * way.
 */
export function takeSettled(form: ItemForm, sent: ItemForm, settled: ItemForm): void {
  const untouched = ([...INHERITABLE, 'inherited'] as const).filter(
    (field) => JSON.stringify(form[field]) === JSON.stringify(sent[field]),
  )
  for (const field of untouched) {
    ;(form as Record<string, unknown>)[field] = settled[field]
  }
}

const READABLE = /^(\d+(\.\d+)?|\d+\/[1-9]\d*)$/

/** The form as the unit ladder draws it: without what cannot be read yet. */
export const drawnItem = (form: ItemForm) => ({
  id: 0,
  stockUnit: form.stockUnit,
  buyingUnit: form.buyingUnit,
  sellingUnit: form.sellingUnit,
  finestStep: READABLE.test(form.finestStep) && Number(form.finestStep) > 0 ? form.finestStep : '1',
  relations: form.relations.filter((r) => READABLE.test(r.per) && /[1-9]/.test(r.per)),
})

/** Whether a field has the group's value or its own; typing a value makes it the item's own. */
export function useInherited(form: Ref<ItemForm>) {
  const references = useReferences()
  const summary = computed<GroupDefaults>(
    () => references.groups.find((group) => group.id === form.value.groupId)?.summary ?? {},
  )
  const isInherited = (field: Inheritable): boolean => form.value.inherited.includes(field)
  const stop = watch(
    () => INHERITABLE.map((field) => form.value[field]),
    () => {
      const own = (form.value.inherited as Inheritable[]).filter(
        (field) => String(form.value[field]) !== String(summary.value[field]),
      )
      if (own.length > 0) {
        form.value.inherited = form.value.inherited.filter((field) => !own.includes(field as Inheritable))
      }
    },
  )
  function take(field: Inheritable): void {
    form.value.inherited = [...form.value.inherited, field]
    form.value[field] = String(summary.value[field])
  }
  /** What stands beneath an inheritable field. */
  function follow(field: Inheritable, unit = ''): { hint: string; hintAct: string | undefined; onHintAct: () => void } {
    const value = summary.value[field]
    let shown
    if (value === undefined) {
      shown = ''
    } else if (field.endsWith('Unit')) {
      shown = references.unitName(String(value))
    } else {
      shown = `${String(value)}${unit}`
    }
    let hint
    if (value === undefined) {
      hint = ''
    } else if (isInherited(field)) {
      hint = 'from the group'
    } else {
      hint = `own; the group says ${shown}`
    }
    return {
      hint,
      hintAct: value !== undefined && !isInherited(field) ? 'take that' : undefined,
      onHintAct: () => take(field),
    }
  }
  const changeGroup = (fresh: boolean): void => {
    if (fresh) {
      joinGroup(form.value, summary.value)
    } else {
      followGroup(form.value, summary.value)
    }
  }
  return { summary, follow, changeGroup, stop }
}
