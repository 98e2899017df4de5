import type { MeasuredItem } from '../ui/use-measure'
import { linesOf, wordsOf, type Found, type PastedLine } from './paste-lines'
import { blankLine, type BillForm } from './use-bill-form'

type Making = MeasuredItem & { readonly makingUnit?: string }
const makingUnitOf = (item: Making | undefined): string => item?.makingUnit ?? item?.stockUnit ?? 'piece'

/** The lines of a bill as they are typed, pasted, moved and taken away; `box` holds them, each with `data-line`. */
export function useBillLines(options: {
  form: Ref<BillForm>
  box: Readonly<Ref<HTMLElement | null>>
  isMade: (itemId: number | null) => boolean
  /** Asks for what is below these items. */
  want: (itemIds: number[]) => void
  /** A line was added, moved or taken away at once. */
  changed: () => void
}) {
  const { form, box, isMade, want, changed } = options
  const references = useReferences()
  const notices = useNotices()
  const lines = computed({
    get: () => form.value.lines as PastedLine[],
    set: (target) => {
      form.value.lines = target
    },
  })
  const opened = ref(new Set<PastedLine>())
  const detailed = ref(new Set<PastedLine>())
  const keys = new WeakMap<object, number>()
  const stated = new WeakSet<object>()
  let last = 0
  const keyOf = (line: object): number => {
    const raw = toRaw(line)
    if (!keys.has(raw)) {
      keys.set(raw, ++last)
    }
    return keys.get(raw)!
  }
  const toggle = (set: Set<PastedLine>, line: PastedLine): void => {
    if (!set.delete(line)) {
      set.add(line)
    }
  }
  async function focus(index: number, column = 0): Promise<void> {
    await nextTick()
    const line = box.value?.querySelectorAll('tbody[data-line]')[index]
    line?.querySelectorAll<HTMLElement>('input:not([type=checkbox]), select')[column]?.focus()
    // What is offered below the last line wants room.
    if (column === 0) {
      line?.scrollIntoView({ block: 'center' })
    }
  }
  function add(): void {
    form.value.lines.push(blankLine())
    void focus(form.value.lines.length - 1)
  }
  function remove(index: number): void {
    form.value.lines.splice(index, 1)
    void focus(Math.min(index, form.value.lines.length - 1))
    changed()
  }
  function move(index: number, step: number): void {
    const target = index + step
    if (target < 0 || target >= form.value.lines.length) {
      return
    }
    const [line] = form.value.lines.splice(index, 1)
    form.value.lines.splice(target, 0, line!)
    void focus(target)
    changed()
  }
  async function chosen(line: PastedLine, index: number, item: { id: number; unit?: string | null }): Promise<void> {
    delete line.word
    stated.delete(toRaw(line))
    const before = line.unit
    want([item.id])
    void focus(index, 1)
    const measured: Making = await fetchMeasured(item.id)
    // Whoever types quickly has said the unit before the item has told its own.
    if (!stated.has(toRaw(line)) && line.unit === before && line.itemId === item.id) {
      line.unit = item.unit ?? makingUnitOf(measured)
    }
  }
  /** What is typed with its unit, “10 g”, is that unit from then on. */
  function settle(line: PastedLine): void {
    const typed = /^\s*([\d.,/ ]+?)\s+(\S+)\s*$/.exec(line.quantity)
    if (!typed || !/\d$/.test(typed[1]!)) {
      return
    }
    const unit = references.units.find((row) =>
      [row.code, row.symbol, row.name, row.plural].some((word) => word.toLowerCase() === typed[2]!.toLowerCase()),
    )
    if (unit) {
      line.quantity = typed[1]!.trim()
      line.unit = unit.code
      stated.add(toRaw(line))
    }
  }
  async function paste(event: ClipboardEvent, index: number): Promise<void> {
    const text = event.clipboardData?.getData('text/plain') ?? ''
    if (!/[\t\n]/.test(text.trimEnd())) {
      return
    }
    event.preventDefault()
    const cells = readClipboard(text)
    const found = await $fetch<Found[]>('/api/structure/look-up', { method: 'POST', body: { words: wordsOf(cells) } })
    const measured = new Map(
      await Promise.all(found.map(async (match) => [match.id, await fetchMeasured(match.id)] as const)),
    )
    want(found.map((match) => match.id))
    const fresh = linesOf(cells, found, references.units, (id) => makingUnitOf(measured.get(id)))
    const isBlank = lines.value[index] && lines.value[index].itemId === null && lines.value[index].quantity === ''
    form.value.lines.splice(index + (isBlank ? 0 : 1), isBlank ? 1 : 0, ...fresh)
    changed()
    sayPasted(fresh)
  }
  function sayPasted(fresh: readonly PastedLine[]): void {
    const lost = fresh.filter((line) => line.itemId === null).map((line) => line.word)
    const names = `${lost.slice(0, 5).join(', ')}${lost.length > 5 ? ' …' : ''}`
    notices.say(
      lost.length === 0
        ? { kind: 'done', text: `${fresh.length} lines pasted.` }
        : { kind: 'problem', text: `${fresh.length} lines pasted; not found: ${names}. Choose their items.` },
    )
  }
  function onKey(event: KeyboardEvent, line: PastedLine, index: number): void {
    const target = event.target as HTMLElement
    const isOpen = target.getAttribute('aria-expanded') === 'true'
    if (event.altKey && ['ArrowUp', 'ArrowDown'].includes(event.key)) {
      event.preventDefault()
      event.stopPropagation()
      move(index, event.key === 'ArrowUp' ? -1 : 1)
    } else if (event.altKey && ['ArrowRight', 'ArrowLeft'].includes(event.key)) {
      event.preventDefault()
      if (isMade(line.itemId)) {
        toggle(opened.value, line)
      }
    } else if (event.altKey && event.key === 'Enter') {
      event.preventDefault()
      toggle(detailed.value, line)
    } else if (event.key === 'Backspace' && event.ctrlKey) {
      event.preventDefault()
      remove(index)
    } else if (event.key === 'Enter' && !isOpen && target.tagName === 'INPUT') {
      event.preventDefault()
      settle(line)
      if (index + 1 < lines.value.length) {
        void focus(index + 1)
      } else {
        add()
      }
    }
  }
  return { lines, opened, detailed, keyOf, toggle, add, remove, chosen, settle, paste, onKey }
}
