<script setup lang="ts">
import type { CountLineRow } from '~~/shared/stock/answers'
import { groupBy } from '~~/core/group-by'
import { scanInField } from '~~/core/codes'
import { ratio, toText } from '~~/core/units/exact'
const props = defineProps<{ count: { id: number; status: string; hidden: boolean; lines: readonly CountLineRow[] } }>()
const emit = defineEmits<{ entered: []; add: [] }>()
const session = useSession()
const { amount, money } = usePrint()
const notices = useNotices()
const { typed, wrong, save, onTyped, paste } = useCountEntry(
  () => props.count,
  () => emit('entered'),
)
const places = computed(() => [...groupBy(props.count.lines, (line) => `${line.site}: ${line.bin}`)])
const editable = computed(() => props.count.status === 'open' && session.allows('stock'))
const difference = (line: CountLineRow): string | null =>
  line.counted === null || line.booked === null ? null : toText(ratio(line.counted).sub(ratio(line.booked)))

const inOrder = computed(() => places.value.flatMap(([, lines]) => lines))
/** A column of figures goes down from its line; with codes beside them each figure finds its own. */
async function onPaste(event: ClipboardEvent, line: CountLineRow): Promise<void> {
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (!/[\t\n]/.test(text.trimEnd())) {
    return
  }
  event.preventDefault()
  const cells = readClipboard(text)
  const unread = await paste(line, inOrder.value, cells)
  const pasted = cells.length - unread.length
  notices.say({ kind: 'done', text: `${pasted} ${plural(pasted, 'figure is', 'figures are')} pasted.` })
  if (unread.length > 0) {
    notices.say({
      kind: 'problem',
      text: `Not on this sheet: ${unread.slice(0, 5).join(', ')}${unread.length > 5 ? ' …' : ''}.`,
    })
  }
}
/**
 * Enter goes on to the next line at once, arrows too; the figure is sent meanwhile, so that fast keys stay in their
 * line. A scan goes to its line.
 */
function goOn(event: KeyboardEvent, line: CountLineRow, step: number): void {
  const scanned = event.key === 'Enter' ? scanInField(typed[line.id] ?? '') : null
  if (scanned) {
    typed[line.id] = scanned.typed || line.entered
    scan.value = scanned.code
  }
  void save(line)
  if (scanned) {
    void find()
    return
  }
  const next = inOrder.value[inOrder.value.findIndex((other) => other.id === line.id) + step]
  if (next) {
    focusLine(next)
  } else {
    ;(event.target as HTMLElement).blur()
  }
}
function focusLine(line: CountLineRow): void {
  const field = document.getElementById(`count-${line.id}`) as HTMLInputElement | null
  field?.focus()
  field?.select()
}
const scan = ref('')
const unknown = ref('')
/** A scanned or typed code leads to its line: an item, a lot or a piece. */
async function find(): Promise<void> {
  const text = scan.value.trim().toLowerCase()
  const [thing] = await $fetch('/api/find', { query: { text: scan.value } })
  const line =
    props.count.lines.find((line) => [line.code, line.lot, line.piece].some((name) => name?.toLowerCase() === text)) ??
    props.count.lines.find((line) => thing?.kind === 'item' && line.itemId === thing.id)
  unknown.value = line ? '' : `“${scan.value}” is not on this sheet.`
  if (line) {
    focusLine(line)
    scan.value = ''
  }
}
</script>

<template>
  <div>
    <form v-if="editable" class="mb-3 flex items-end gap-3" @submit.prevent="find">
      <UiTextField v-model="scan" class="w-64" label="Scan, or type a code" :error="unknown" /><UiButton
        small
        class="mb-1"
        type="submit"
        >Go to it</UiButton
      ><UiButton small class="mb-1 ml-auto" @click="emit('add')">Something is here that is not on the sheet</UiButton>
    </form>
    <UiSheet v-for="[place, own] in places" :key="place" :title="place" flush class="mb-3">
      <UiLinesTable class="w-full" :aria-label="place">
        <thead>
          <tr class="text-left text-fine text-soft">
            <th class="px-4 py-1.5 font-medium">Item</th>
            <th class="px-3 py-1.5 font-medium">Lot, piece</th>
            <th class="w-56 px-3 py-1.5 text-right font-medium">Counted</th>
            <template v-if="!count.hidden"
              ><th class="px-3 py-1.5 text-right font-medium">Book quantity</th>
              <th class="px-3 py-1.5 text-right font-medium">Difference</th>
              <th class="px-3 py-1.5 text-right font-medium">Worth</th></template
            >
            <th class="px-3 py-1.5 font-medium" />
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in own" :key="line.id" class="h-10 border-t border-line/60">
            <td class="px-4 py-1"><UiItemChip :id="line.itemId" :code="line.code" :name="line.name" /></td>
            <td class="px-3">
              {{ [line.piece, line.lot].filter(Boolean).join(', ')
              }}<span v-if="line.status !== 'available'" class="text-soft"> {{ line.status }}</span>
            </td>
            <td class="px-3 text-right">
              <span v-if="editable" class="inline-flex items-center gap-1.5"
                ><input
                  :id="`count-${line.id}`"
                  v-model="typed[line.id]"
                  inputmode="decimal"
                  autocomplete="off"
                  :aria-label="`Counted of ${[line.code, line.piece, line.lot].filter(Boolean).join(' ')} in ${line.bin}`"
                  :aria-invalid="Boolean(wrong[line.id])"
                  class="h-9 w-28 rounded-block border bg-sheet px-2.5 text-right pointer-coarse:h-[44px]"
                  :class="wrong[line.id] ? 'border-brick' : 'border-line'"
                  @input="onTyped(line)"
                  @change="save(line)"
                  @paste="onPaste($event, line)"
                  @keydown.enter.prevent="goOn($event, line, 1)"
                  @keydown.down.prevent="goOn($event, line, 1)"
                  @keydown.up.prevent="goOn($event, line, -1)"
                /><span class="w-8 text-left text-soft">{{ line.symbol }}</span></span
              >
              <UiQty v-else-if="line.counted !== null" :of="line.counted" :unit="line.symbol" />
              <span v-if="wrong[line.id]" role="alert" class="block text-fine text-brick">{{ wrong[line.id] }}</span>
            </td>
            <template v-if="!count.hidden">
              <td class="px-3 text-right">
                <UiQty v-if="line.booked !== null" :of="line.booked" :unit="line.symbol" />
              </td>
              <td class="px-3 text-right">
                <span v-if="difference(line) && difference(line) !== '0'" class="font-semibold text-brick">{{
                  amount(difference(line)!, 6)
                }}</span><span v-else-if="difference(line)" class="text-soft">none</span>
              </td>
              <td class="px-3 text-right">
                <template v-if="line.worth && difference(line) && difference(line) !== '0'">{{
                  money(line.worth)
                }}</template>
              </td>
            </template>
            <td class="px-3 text-fine text-soft">
              <span v-if="line.recount && line.counted === null" class="font-medium text-brick">count again</span
              ><span v-else-if="line.recount">counted twice, </span
              ><span v-if="line.moved > 0 && !count.hidden">
                {{ line.moved }} {{ plural(line.moved, 'move', 'moves') }} meanwhile</span
              ><span v-if="line.who && line.counted !== null"> {{ line.who }}</span>
            </td>
          </tr>
        </tbody>
      </UiLinesTable>
    </UiSheet>
  </div>
</template>
