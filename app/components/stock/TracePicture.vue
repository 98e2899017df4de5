<script setup lang="ts">
import type { TraceNode } from '~~/shared/stock/answers'
import { groupBy } from '~~/core/group-by'
const props = defineProps<{
  trace: {
    start: string
    nodes: readonly TraceNode[]
    edges: readonly { from: string; to: string; quantity: string; symbol: string; possible: boolean }[]
  }
  direction: 'back' | 'forward'
}>()
const { amount } = usePrint()
const [WIDE, HIGH, GAP, ACROSS] = [168, 52, 14, 88]
/** A column a level; goods flow from left to right whichever way was asked. */
const placed = computed(() => {
  const levels = groupBy(props.trace.nodes, (node) => node.level)
  const depth = Math.max(...levels.keys())
  return new Map(
    [...levels].flatMap(([level, own]) =>
      own.map(
        (node, row) =>
          [
            node.id,
            {
              node,
              x: (props.direction === 'forward' ? level : depth - level) * (WIDE + ACROSS),
              y: row * (HIGH + GAP),
            },
          ] as const,
      ),
    ),
  )
})
const size = computed(() => ({
  width: Math.max(...[...placed.value.values()].map((p) => p.x)) + WIDE,
  height: Math.max(...[...placed.value.values()].map((p) => p.y)) + HIGH,
}))
const lines = computed(() =>
  props.trace.edges.flatMap((edge) => {
    const [from, to] = [placed.value.get(edge.from), placed.value.get(edge.to)]
    if (!from || !to) {
      return []
    }
    const [x1, y1, x2, y2] = [from.x + WIDE, from.y + HIGH / 2, to.x, to.y + HIGH / 2]
    return [
      {
        key: `${edge.from} ${edge.to}`,
        path: `M ${x1} ${y1} C ${x1 + ACROSS / 2} ${y1}, ${x2 - ACROSS / 2} ${y2}, ${x2} ${y2}`,
        x: x2 - 8,
        y: y2 - 5,
        summary: `${amount(edge.quantity, 4)} ${edge.symbol}`,
        possible: edge.possible,
      },
    ]
  }),
)
const linkOf = (node: TraceNode): string | undefined => {
  if (node.pieceId) {
    return `/stock/pieces/${node.pieceId}`
  }
  if (node.lotId) {
    return `/stock/lots/${node.lotId}`
  }
  return undefined
}
</script>

<template>
  <div class="overflow-x-auto" tabindex="0" role="group" aria-label="Genealogy, drawn">
    <div class="relative" :style="{ width: `${size.width}px`, height: `${size.height}px` }">
      <svg :width="size.width" :height="size.height" class="absolute inset-0" aria-hidden="true">
        <g v-for="(line, index) in lines" :key="index">
          <path
            :d="line.path"
            fill="none"
            class="stroke-stone"
            stroke-width="1.5"
            :stroke-dasharray="line.possible ? '5 4' : undefined"
          />
          <text
            :x="line.x"
            :y="line.y"
            text-anchor="end"
            class="fill-soft stroke-sheet text-[11px] [paint-order:stroke]"
            stroke-width="4"
          >
            {{ line.summary }}
          </text>
        </g>
      </svg>
      <component
        :is="linkOf(node) ? 'a' : 'span'"
        v-for="{ node, x, y } in placed.values()"
        :key="node.id"
        :href="linkOf(node)"
        class="absolute flex overflow-hidden rounded-block border bg-sheet hover:border-maple"
        :class="[node.id === trace.start ? 'border-2 border-ink' : 'border-line', node.possible && 'border-dashed']"
        :style="{ left: `${x}px`, top: `${y}px`, width: `${WIDE}px`, height: `${HIGH}px` }"
      >
        <GoodsBlock
          :state="node.onHand !== '0' ? 'on hand' : node.shippedTo ? 'allocated' : 'held'"
          class="h-full w-3 shrink-0 rounded-none border-0"
        />
        <span class="grid min-w-0 flex-1 content-center px-2 leading-tight"
          ><span class="truncate font-medium">{{ node.piece ?? node.lot ?? node.code }}</span
          ><span class="truncate text-fine text-soft"
            >{{ node.possible ? 'possibly ' : '' }}{{ node.piece || node.lot ? node.code : 'by quantity only'
            }}<template v-if="node.onHand !== '0'"
              >, {{ amount(node.onHand, 4) }} {{ node.symbol }} left</template
            ></span
          ></span
        >
      </component>
    </div>
  </div>
</template>
