<script setup lang="ts">
import type { Comparison } from '~~/shared/structure/answers'

const props = defineProps<{ before: number; after: number }>()
const references = useReferences()
const session = useSession()
const { price, amount } = usePrint()
const { data, error } = await useFetch<Comparison>('/api/structure/compare', {
  query: { before: props.before, after: props.after },
})
const FACE: Readonly<Record<string, string>> = {
  added: 'border-willow',
  removed: 'border-brick',
  changed: 'border-maple',
  same: 'border-transparent',
}
type Said = {
  quantity: string
  unit: string
  basis: string
  scrapPercent: string
  offsetDays: number
  phantom: boolean
  note: string
  substitutes: number
} | null
const format = (line: Said): string =>
  line
    ? [
        `${amount(line.quantity, 6)} ${references.symbol(line.unit)}`,
        line.basis === 'per build' ? 'once a build' : '',
        line.scrapPercent !== '0' ? `scrap ${line.scrapPercent} %` : '',
        line.phantom ? 'phantom' : '',
        line.offsetDays ? `after ${line.offsetDays} ${plural(line.offsetDays, 'day', 'days')}` : '',
        line.substitutes ? `${line.substitutes} ${plural(line.substitutes, 'substitute', 'substitutes')}` : '',
        line.note,
      ]
        .filter(Boolean)
        .join(' · ')
    : '—'
const signed = (text: string): string => {
  if (Number(text) > 0) {
    return `+${price(text)}`
  }
  if (Number(text) < 0) {
    return `−${price(text.replace('-', ''))}`
  }
  return 'no change'
}
</script>

<template>
  <UiProblem v-if="error" :text="problemOf(error).detail" class="m-4" />
  <div v-else-if="data">
    <p v-if="session.allows('costs')" class="border-b border-line px-4 py-2.5">
      One costs <b class="font-semibold">{{ price(data.before.cost.total) }}</b> by revision
      {{ data.before.revision }} and <b class="font-semibold">{{ price(data.after.cost.total) }}</b> by revision
      {{ data.after.revision }}: <b class="font-semibold" data-difference>{{ signed(data.difference) }}</b>.
      <a
        :href="`/api/structure/compare?before=${before}&after=${after}&format=csv`"
        class="text-soft underline"
        download
        >CSV</a
      >
    </p>
    <UiLinesTable class="w-full" aria-label="Differences">
      <thead>
        <tr class="text-left text-fine text-soft">
          <th class="px-4 py-1.5 font-medium">Component</th>
          <th class="px-2 py-1.5 font-medium">Revision {{ data.before.revision }}</th>
          <th class="px-2 py-1.5 font-medium">Revision {{ data.after.revision }}</th>
          <th class="px-4 py-1.5 font-medium" />
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in data.head" :key="row.name" class="border-t border-line/60">
          <td class="border-l-4 border-maple px-4 py-1.5 text-soft">{{ row.name }}</td>
          <td class="px-2 py-1.5">{{ row.before || '—' }}</td>
          <td class="px-2 py-1.5 font-medium">{{ row.after || '—' }}</td>
          <td class="px-4 text-soft">changed</td>
        </tr>
        <tr
          v-for="(row, index) in data.lines"
          :key="index"
          class="border-t border-line/60"
          :class="row.kind === 'same' && 'text-soft'"
        >
          <td class="border-l-4 px-4 py-1.5" :class="FACE[row.kind]">
            <UiItemChip :id="row.itemId" :code="row.code" :name="row.name" />
          </td>
          <td class="px-2 py-1.5" :class="row.kind === 'removed' && 'line-through'">{{ format(row.before) }}</td>
          <td class="px-2 py-1.5" :class="row.kind !== 'same' && 'font-medium'">{{ format(row.after) }}</td>
          <td class="px-4 py-1.5 text-soft">{{ row.kind === 'same' ? '' : row.kind }}</td>
        </tr>
      </tbody>
    </UiLinesTable>
  </div>
</template>
