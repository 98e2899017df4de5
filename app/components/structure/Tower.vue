<script setup lang="ts">
import { ratio, toDecimal } from '~~/core/units/exact'
import { TOWER_WIDTHS, towerOf, type TowerBlock, type TowerWidth } from '~/composables/structure/tower-of'
import type { PartStructure } from '~~/shared/structure/parts'
import type { CostBasis } from '~~/shared/structure/words'

const props = defineProps<{ structure: PartStructure | null; itemId: number; basis?: CostBasis }>()
const quantity = defineModel<string>('quantity', { default: '1' })
const references = useReferences()
const sheets = useSheets()
const { price } = usePrint()
const session = useSession()
const seesCosts = computed(() => session.allows('costs'))
const measured = ref<TowerWidth>(seesCosts.value ? 'cost' : 'lead time')
const zoomed = ref<number[]>([])
const focused = ref<number | null>(null)
const drawing = useTemplateRef<SVGSVGElement>('drawing')
const WIDTH = 380
const HEIGHT = 44

watch(
  () => props.itemId,
  () => {
    zoomed.value = []
  },
)
const rootId = computed(() => zoomed.value.at(-1) ?? props.itemId)
const root = computed(() => props.structure?.items.get(String(rootId.value)) ?? null)
const amount = computed(() =>
  /^\d+(\.\d+)?$/.test(quantity.value) && Number(quantity.value) > 0 ? ratio(quantity.value) : ratio(1),
)
const costed = computed(() => props.structure?.costed(rootId.value, amount.value, props.basis ?? 'current') ?? null)
const tower = computed(() =>
  props.structure && costed.value
    ? towerOf({
        structure: props.structure,
        rootId: rootId.value,
        rows: costed.value.rows,
        quantity: Number(toDecimal(amount.value, 6)),
        measured: measured.value,
        units: references.units,
        width: WIDTH,
        money: price,
      })
    : null,
)
/** What a block rests on, and what rests on it, stands out while it is looked at. */
const near = computed(() => {
  const lines = props.structure?.parts.lines ?? []
  return focused.value === null
    ? null
    : new Set([
        focused.value,
        ...lines.filter((line) => line.parent === focused.value).map((line) => line.child),
        ...lines.filter((line) => line.child === focused.value).map((line) => line.parent),
      ])
})
const FACE: Readonly<Record<string, string>> = {
  made: 'fill-slate/15 stroke-slate',
  kit: 'fill-slate/15 stroke-slate',
  'broken down': 'fill-slate/15 stroke-slate',
  bought: 'fill-maple/20 stroke-maple',
  'moved from another site': 'fill-willow/15 stroke-willow',
}
function zoom(block: TowerBlock): void {
  if (block.isMade) {
    zoomed.value = [...zoomed.value, block.itemId]
    focused.value = null
  } else {
    sheets.open(block.itemId)
  }
}
function back(): void {
  zoomed.value = zoomed.value.slice(0, -1)
}
const say = (block: TowerBlock): string =>
  `${block.code}${block.label ? ` ${block.label}` : ''}: ${block.quantity} ${block.symbol} ${block.name}${block.isShort ? ', not all there' : ''}`

const preview = computed(() => tower.value?.blocks.find((block) => block.itemId === focused.value) ?? null)

const middleOf = (block: TowerBlock): number => block.x + block.width / 2
/**
 * The block that an arrow leads to: along a course, or the nearest of the course above or below; null where no arrow
 * was pressed.
 */
function neighbour(key: string, block: TowerBlock | null): TowerBlock | null | undefined {
  const blocks = tower.value?.blocks ?? []
  const middle = block ? middleOf(block) : WIDTH / 2
  const course = block?.course ?? 0
  const own = blocks.filter((other) => other.course === course)
  const beside = (step: number): TowerBlock | undefined => own[own.indexOf(block!) + step]
  const across = (target: number): TowerBlock | undefined =>
    blocks
      .filter((other) => other.course === target)
      .sort((a, b) => Math.abs(middleOf(a) - middle) - Math.abs(middleOf(b) - middle))[0]
  switch (key) {
    case 'ArrowRight':
      return beside(1)
    case 'ArrowLeft':
      return beside(-1)
    case 'ArrowDown':
      return across(course + 1)
    case 'ArrowUp':
      return across(course - 1)
    default:
      return null
  }
}
function openBlock(block: TowerBlock, event: KeyboardEvent): void {
  if (event.ctrlKey) {
    sheets.open(block.itemId)
  } else {
    zoom(block)
  }
}
function onKey(event: KeyboardEvent, block: TowerBlock | null): void {
  if (event.key === 'Enter') {
    event.preventDefault()
    if (block) {
      openBlock(block, event)
    }
    return
  }
  if (event.key === 'Escape' && zoomed.value.length > 0) {
    event.preventDefault()
    event.stopPropagation()
    back()
    return
  }
  const target = neighbour(event.key, block)
  if (target === null) {
    return
  }
  event.preventDefault()
  const goal = !target && event.key === 'ArrowUp' ? '[data-top]' : `[data-block="${(target ?? block)?.itemId}"]`
  drawing.value?.querySelector<SVGElement>(goal)?.focus()
}
async function keep(how: 'svg' | 'png'): Promise<void> {
  if (drawing.value) {
    await savePicture(drawing.value, `${root.value?.code ?? 'structure'}-tower`, how)
  }
}
</script>

<template>
  <section class="rounded-md border border-line bg-sheet p-3" aria-label="Structure">
    <div class="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1 text-fine text-soft">
      <h2 class="mr-auto text-base font-semibold text-ink">Structure</h2>
      <label class="flex items-center gap-1.5"
        >for
        <input
          v-model="quantity"
          class="h-7 w-14 rounded-block border border-line bg-sheet px-2 text-right text-ink"
          aria-label="Quantity of the tower"
        />
        {{ root?.symbol }}</label
      >
      <UiChoice
        v-model="measured"
        class="w-32"
        label="Width of the blocks"
        hide-label
        compact
        :options="
          TOWER_WIDTHS.filter((width) => seesCosts || width !== 'cost').map((width) => ({ value: width, name: width }))
        "
      />
    </div>
    <p v-if="!structure" class="py-6 text-soft">The tower stands again when the bill runs in no circle.</p>
    <template v-else-if="tower && costed && root">
      <nav v-if="zoomed.length" class="mb-1 flex gap-1 text-fine" aria-label="Path in the tower">
        <button
          v-for="(id, i) in [itemId, ...zoomed.slice(0, -1)]"
          :key="id"
          type="button"
          class="underline"
          @click="zoomed = zoomed.slice(0, i)"
        >
          {{ structure.items.get(String(id))?.code }}</button><span class="text-soft">→ {{ root.code }}</span>
      </nav>
      <svg
        ref="drawing"
        :viewBox="`0 0 ${WIDTH} ${(tower.courses + 1) * (HEIGHT + 4)}`"
        class="w-full"
        role="group"
        :aria-label="`Tower of ${root.code}`"
        xmlns="http://www.w3.org/2000/svg"
        style="font-family: 'Figtree Variable', sans-serif"
      >
        <g
          data-top
          tabindex="0"
          role="button"
          :aria-label="`${root.code}${seesCosts ? ` ${price(toDecimal(costed.total, 2))}` : ''}, ${root.name}`"
          class="outline-none"
          @keydown="onKey($event, null)"
          @click="sheets.open(root.id)"
        >
          <rect
            :x="WIDTH * 0.2"
            y="1"
            :width="WIDTH * 0.6"
            :height="HEIGHT - 4"
            rx="4"
            class="fill-maple stroke-maple"
            stroke-width="2"
          />
          <text :x="WIDTH / 2" :y="HEIGHT / 2 + 3" text-anchor="middle" font-size="13" font-weight="600" fill="#2a2520">
            {{ root.code }}
            <template v-if="seesCosts">{{ price(toDecimal(costed.total, 2)) }}</template>
          </text>
        </g>
        <svg v-if="tower.own" :x="tower.own.x" :y="HEIGHT + 4" :width="tower.own.width" :height="HEIGHT">
          <rect
            x="1"
            y="1"
            :width="tower.own.width - 2"
            :height="HEIGHT - 2"
            rx="3"
            class="fill-wash stroke-line"
            stroke-width="1"
          />
          <text v-if="tower.own.width >= 34" x="6" y="18" font-size="11.5" class="fill-soft">work</text>
          <text v-if="tower.own.width >= 44" x="6" y="33" font-size="10.5" class="fill-soft">
            {{ tower.own.label }}
          </text>
        </svg>
        <g
          v-for="block in tower.blocks"
          :key="block.itemId"
          :data-block="block.itemId"
          tabindex="0"
          role="button"
          :aria-label="say(block)"
          class="group cursor-pointer outline-none"
          :class="near && !near.has(block.itemId) && 'opacity-40'"
          @keydown="onKey($event, block)"
          @click="zoom(block)"
          @focus="focused = block.itemId"
          @blur="focused = null"
          @mouseenter="focused = block.itemId"
          @mouseleave="focused = null"
        >
          <svg :x="block.x" :y="block.course * (HEIGHT + 4)" :width="block.width" :height="HEIGHT">
            <rect
              x="1"
              y="1"
              :width="Math.max(1, block.width - 2)"
              :height="HEIGHT - 2"
              rx="3"
              stroke-width="2"
              class="group-focus-visible:stroke-ink"
              :class="block.isShort ? 'fill-transparent stroke-brick' : (FACE[block.source] ?? FACE.bought)"
              :stroke-dasharray="block.isShort ? '5 3' : undefined"
            />
            <text v-if="block.width >= 34" x="6" y="18" font-size="11.5" font-weight="500" class="fill-ink">
              {{ block.code }}
            </text>
            <text v-if="block.width >= 44" x="6" y="33" font-size="10.5" class="fill-soft">{{ block.label }}</text>
          </svg>
        </g>
      </svg>
      <p class="mt-1 min-h-5 text-fine" aria-hidden="true">{{ preview ? say(preview) : '' }}</p>
      <p class="mt-1 text-fine text-soft">
        {{
          measured === 'cost'
            ? 'Width is the share of cost'
            : measured === 'mass'
              ? 'Width is the share of mass, where weights are known'
              : 'Width is the own lead time'
        }}. Dashed: not there in the quantity needed. Enter or click goes into a made part.
        <button type="button" class="underline" @click="keep('svg')">SVG</button>{{ ' ' }}
        <button type="button" class="underline" @click="keep('png')">PNG</button>
      </p>
      <p v-if="seesCosts && costed.unpriced.length" class="mt-1 text-fine text-brick">
        No price known: {{ costed.unpriced.map((id) => structure?.items.get(String(id))?.code).join(', ') }}.
      </p>
    </template>
  </section>
</template>
