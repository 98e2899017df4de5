<script setup lang="ts">
import Draggable from 'vuedraggable'
import type { CutPiece } from '~~/core/cutting'
import type { CutPlan, CutStock, WantedCut } from '~~/shared/workshop/cutting'

const props = defineProps<{
  stock: readonly CutStock[]
  wanted: readonly WantedCut[]
  cuts: CutPlan['cuts']
  pieces: readonly CutPiece[]
  missing: readonly { id: string; count: number }[]
  symbol: string
  steps: (text: string) => number
  measure: (steps: number) => string
  disabled: boolean
}>()
const emit = defineEmits<{
  parts: [pieceId: number, parts: number[]]
  move: [from: number | null, at: number, to: number | null]
}>()
const { amount } = usePrint()
interface Block {
  key: string
  part: number
}
/** A part that was chosen by a click or a key goes where is clicked next. */
const held = ref<{ from: number | null; at: number } | null>(null)
const longest = computed(() => Math.max(1, ...props.stock.map((piece) => props.steps(piece.free))))
const cutOf = (pieceId: number): CutPiece | undefined => props.pieces.find((piece) => piece.stock === String(pieceId))
const blocksOf = (pieceId: number): Block[] =>
  (props.cuts.find((cut) => cut.pieceId === pieceId)?.parts ?? []).map((part, index) => ({
    key: `${pieceId}.${index}.${part}`,
    part,
  }))
const waiting = computed(() =>
  props.missing.flatMap((shortfall) =>
    Array.from({ length: shortfall.count }, (_, n): Block => ({
      key: `m${shortfall.id}.${n}`,
      part: Number(shortfall.id),
    })),
  ),
)
const width = (steps: number): string => `${(Math.max(0, steps) / longest.value) * 100}%`
const shown = computed(() =>
  [...props.stock].sort(
    (a, b) =>
      Number(blocksOf(b.pieceId).length > 0) - Number(blocksOf(a.pieceId).length > 0) || a.label.localeCompare(b.label),
  ),
)
const lengthOf = (part: number): string => `${props.wanted[part]!.entered} ${props.wanted[part]!.unit}`
const describe = (part: number): string => [lengthOf(part), props.wanted[part]!.job].filter(Boolean).join(' ')
function choose(from: number | null, index: number): void {
  held.value = held.value?.from === from && held.value.at === index ? null : { from, at: index }
}
function put(pieceId: number | null): void {
  if (!held.value || held.value.from === pieceId) {
    held.value = null
    return
  }
  const index = held.value.from === null ? waiting.value[held.value.at]!.part : held.value.at
  emit('move', held.value.from, index, pieceId)
  held.value = null
}
// Blocks are to scale: each says as much as it has room for, and all of it on hover and focus. Those too narrow to hit
// are chosen from a list beside them.
const isWide = (part: number): boolean => props.steps(props.wanted[part]!.quantity) / longest.value > 0.07
const listed = ref<number | null>(null)
const narrow = (pieceId: number): { part: number; at: number }[] =>
  blocksOf(pieceId)
    .map(({ part }, index) => ({ part, at: index }))
    .filter((entry) => !isWide(entry.part))
const TINTS = ['bg-maple text-[#2a2520]', 'bg-maple/85 text-[#2a2520]', 'bg-maple/40']
const jobs = computed(() => [...new Set(props.wanted.map((cut) => cut.job))])
const tint = (part: number): string => TINTS[jobs.value.indexOf(props.wanted[part]!.job) % TINTS.length]!
const isHeld = (from: number | null, index: number): boolean => held.value?.from === from && held.value.at === index
</script>

<template>
  <div>
    <div v-if="waiting.length" class="mb-3 rounded-block border-2 border-dashed border-brick p-2">
      <p class="mb-1 font-medium text-brick">
        {{ waiting.length }} {{ plural(waiting.length, 'length is', 'lengths are') }} on no piece yet<template
          v-if="!disabled"
          >: drag {{ plural(waiting.length, 'it', 'them') }} onto one, or choose one and then a piece</template
        >.
      </p>
      <Draggable
        :list="[...waiting]"
        item-key="key"
        :group="{ name: 'parts', pull: 'clone', put: false }"
        :disabled="disabled"
        class="flex flex-wrap gap-1"
      >
        <template #item="{ element, index }"
          ><button
            type="button"
            class="h-9 rounded-block border-2 border-maple px-2"
            :class="[tint(element.part), isHeld(null, index) && 'ring-2 ring-ink']"
            :aria-pressed="isHeld(null, index)"
            @click="choose(null, index)"
          >
            {{ describe(element.part) }}
          </button></template
        >
      </Draggable>
    </div>
    <ul class="grid gap-1.5" aria-label="Pieces and what is cut from them">
      <li
        v-for="piece in shown"
        :key="piece.pieceId"
        class="grid grid-cols-1 md:grid-cols-[13rem_minmax(0,1fr)_8rem] items-center gap-3"
      >
        <span class="truncate"
          ><NuxtLink :to="`/stock/pieces/${piece.pieceId}`" class="font-medium hover:underline">{{
            piece.label
          }}</NuxtLink
          ><span class="block truncate text-fine text-soft">{{
            [
              piece.lot && `lot ${piece.lot}`,
              ...Object.entries(piece.traits).map(([name, value]) => `${name} ${value}`),
              piece.bin,
            ]
              .filter(Boolean)
              .join(' · ')
          }}</span></span
        >
        <div
          class="flex h-10 rounded-block border-2"
          :class="(cutOf(piece.pieceId)?.rest ?? 0) < 0 ? 'border-brick' : 'border-line'"
          :style="{ width: width(Math.max(steps(piece.free), cutOf(piece.pieceId)?.wanted ?? 0)) }"
        >
          <Draggable
            :model-value="blocksOf(piece.pieceId)"
            item-key="key"
            group="parts"
            :disabled="disabled"
            class="flex h-full min-w-8 flex-1 overflow-hidden"
            @update:model-value="
              (blocks: Block[]) =>
                emit(
                  'parts',
                  piece.pieceId,
                  blocks.map((block) => block.part),
                )
            "
          >
            <template #item="{ element, index }">
              <component
                :is="isWide(element.part) ? 'button' : 'span'"
                :type="isWide(element.part) ? 'button' : undefined"
                class="@container h-full min-w-0 overflow-hidden rounded-[2px] border-r-2 border-sheet px-1 text-left text-fine leading-8 whitespace-nowrap"
                :class="[tint(element.part), isHeld(piece.pieceId, index) && 'ring-2 ring-ink ring-inset']"
                :style="{
                  width: `${(steps(wanted[element.part]!.quantity) / Math.max(steps(piece.free), cutOf(piece.pieceId)!.wanted)) * 100}%`,
                }"
                :title="describe(element.part)"
                :aria-label="isWide(element.part) ? `${describe(element.part)} from ${piece.label}` : undefined"
                :aria-pressed="isWide(element.part) ? isHeld(piece.pieceId, index) : undefined"
                @click="choose(piece.pieceId, index)"
                ><template v-if="isWide(element.part)"
                  ><span class="hidden @min-[3.5rem]:inline">{{ lengthOf(element.part) }}</span
                  ><span class="hidden @min-[10rem]:inline">{{ ' ' }}{{ wanted[element.part]!.job }}</span></template
                ></component
              >
            </template>
            <template #footer
              ><span
                v-if="cutOf(piece.pieceId) && cutOf(piece.pieceId)!.rest > 0"
                class="h-full flex-1"
                :class="cutOf(piece.pieceId)!.isKept ? '' : 'hatched border-stone'"
                :title="cutOf(piece.pieceId)!.isKept ? 'goes back to stock' : 'lost'"
            /></template>
          </Draggable>
        </div>
        <span class="text-right text-fine whitespace-nowrap">
          <UiButton
            v-if="!held && !disabled && narrow(piece.pieceId).length"
            small
            class="mr-1"
            :aria-expanded="listed === piece.pieceId"
            :aria-label="`List what is cut from ${piece.label}`"
            title="List what is cut from it"
            @click="listed = listed === piece.pieceId ? null : piece.pieceId"
            >≡</UiButton
          >
          <UiButton
            v-if="held && held.from !== piece.pieceId && !disabled"
            small
            :aria-label="`Put it on ${piece.label}`"
            @click="put(piece.pieceId)"
            >here</UiButton
          >
          <template v-else-if="cutOf(piece.pieceId)"
            ><b v-if="cutOf(piece.pieceId)!.rest < 0" class="font-semibold text-brick"
              >{{ amount(measure(-cutOf(piece.pieceId)!.rest), 4) }} {{ symbol }} too much</b
            ><span v-else-if="cutOf(piece.pieceId)!.isKept"
              ><b class="font-semibold">{{ amount(measure(cutOf(piece.pieceId)!.rest), 4) }} {{ symbol }}</b>
              stays</span
            ><span v-else-if="cutOf(piece.pieceId)!.rest > 0" class="text-soft"
              >{{ amount(measure(cutOf(piece.pieceId)!.rest), 4) }} {{ symbol }} lost</span
            ><span v-else class="text-soft">used up</span></template
          >
          <span v-else class="text-soft">{{ amount(piece.free, 4) }} {{ symbol }} whole</span>
        </span>
        <p v-if="listed === piece.pieceId" class="md:col-span-3 flex flex-wrap gap-1 pb-1">
          <UiButton
            v-for="{ part, at } in narrow(piece.pieceId)"
            :key="at"
            small
            :aria-pressed="isHeld(piece.pieceId, at)"
            :class="isHeld(piece.pieceId, at) && 'ring-2 ring-ink'"
            :aria-label="`${describe(part)} from ${piece.label}`"
            @click="choose(piece.pieceId, at)"
            >{{ describe(part) }}</UiButton
          >
        </p>
      </li>
    </ul>
    <UiButton v-if="held && held.from !== null && !disabled" small class="mt-2" @click="put(null)"
      >Take it off</UiButton
    >
  </div>
</template>
