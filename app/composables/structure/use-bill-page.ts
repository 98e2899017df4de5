import { asForm } from '../ui/as-form'
import { billOf, drawDraft, exactIn, measureOfPart, placedFaults, type BillForm } from './use-bill-form'
import type { Revision } from '~~/shared/structure/answers'

type Stored = Record<string, unknown> & { id: number; version: number }

/** The items that a form names: components, their substitutes, by-products. */
const partsOf = (form: BillForm): number[] =>
  [
    ...form.lines.flatMap((line) => [line.itemId, ...line.substitutes.map((substitute) => substitute.itemId)]),
    ...form.byProducts.map((byProduct) => byProduct.itemId),
  ].filter((id) => id !== null)

/**
 * The revisions of an item's bill, and the one that is looked at: its form, saved as one goes, and the structure that
 * it draws.
 */
export async function useBillPage(itemId: Ref<number>, wanted: () => number | null, mayEdit: () => boolean) {
  const session = useSession()
  const references = useReferences()
  const { parts, fetchParts, want, again } = useParts()
  // What belongs to the component is set up before anything is waited for.
  const asked = useFetch<Revision[]>(() => `/api/structure/${itemId.value}/revisions`)
  const { data: revisions, refresh } = asked
  const items = computed(() => new Map(parts.value.items.map((item) => [item.id, item])))
  const shown = computed(
    () =>
      revisions.value?.find((revision) => revision.id === wanted()) ??
      revisions.value?.find((revision) => revision.state === 'current') ??
      revisions.value?.[0] ??
      null,
  )
  const form = ref(null) as Ref<BillForm | null>
  const held = computed({
    get: () => form.value!,
    set: (target) => {
      form.value = target
    },
  })
  const sign = computed(() => session.company?.decimalSign ?? ('.' as const))
  /** Until its own form has come, what is on the screen is still the form of the revision before. */
  const isDraft = computed(() => shown.value?.state === 'draft' && form.value?.id === shown.value.id)
  let sentLines: number[] = []

  const saving = useSaving(
    held as Ref<BillForm>,
    async (sent) => {
      // A typed quantity can be read only with its item's units: who types quickly is ahead of them.
      await fetchParts(partsOf(sent))
      const { definition, lines } = billOf(sent, (id, quantity, unit) => {
        const part = items.value.get(id)
        return exactIn(part ? measureOfPart(references.units, part) : null, quantity, unit, sign.value)
      })
      sentLines = lines
      const stored = await $fetch<Stored>(`/api/catalogue/definitions/bills/${sent.id}`, {
        method: 'PUT',
        body: { version: version.value, definition },
      })
      version.value = stored.version
      await refresh()
    },
    () => mayEdit() && isDraft.value && form.value !== null,
  )
  const version = ref(0)
  const history = useHistory(held as Ref<BillForm>)
  watch(saving.state, (state) => {
    if (state === 'saved') {
      history.keep()
    }
  })

  async function load(): Promise<void> {
    const id = shown.value?.id
    if (id === undefined) {
      form.value = null
      return
    }
    const stored = await $fetch<Stored>(`/api/catalogue/definitions/bills/${id}`)
    if (shown.value?.id !== id) {
      return
    }
    version.value = stored.version
    saving.accept(asForm(stored) as unknown as BillForm)
    history.forget()
    await want([itemId.value, ...partsOf(form.value!)])
  }
  watch(
    () => shown.value?.id,
    (id) => {
      if (id !== form.value?.id) {
        void load()
      }
    },
  )
  const drawn = computed(() =>
    form.value ? drawDraft(form.value, parts.value, references.units, sign.value) : { structure: null, summary: [] },
  )
  const fields = computed(() => placedFaults(saving.fields.value, sentLines))
  await asked
  await load()
  return {
    revisions,
    refresh,
    shown,
    form,
    held,
    isDraft,
    saving,
    history,
    drawn,
    fields,
    items,
    parts,
    want,
    again,
    load,
    version,
  }
}
