<script setup lang="ts">
import type { MeasuredItem } from '~/composables/use-measure'

const props = defineProps<{ item: MeasuredItem & { code: string, source: string }, mayEdit: boolean }>()
const emit = defineEmits<{ saved: [] }>()
const notices = useNotices()
const { data: bill, refresh } = await useFetch(() => `/api/structure/${props.item.id}/bill`)
const { busy, detail, fields, code, run } = useAct()

interface Line { itemId: number | null, shown: { id: number, code: string, name: string } | null, measured: MeasuredItem | null, quantity: string, unit: string, basis: 'per batch' | 'per build', scrapPercent: string, note: string }
const form = reactive({ batchSize: '1', batchUnit: props.item.stockUnit, yieldPercent: '100', workMinutes: '0', workRate: '0', note: '', lines: [] as Line[] })

const percent = (share: string): string => String(+(Number(share) * 100).toFixed(6))
async function fill(): Promise<void> {
  const b = bill.value
  Object.assign(form, b
    ? { batchSize: b.batchSize, batchUnit: b.batchUnit, yieldPercent: percent(b.outputYield), workMinutes: b.workMinutes, workRate: b.workRate, note: b.note, lines: await Promise.all(b.lines.map(async l => ({ itemId: l.itemId, shown: { id: l.itemId, code: l.code, name: l.name }, measured: await fetchMeasured(l.itemId), quantity: l.quantity, unit: l.unit, basis: l.basis, scrapPercent: percent(l.scrap), note: l.note }))) }
    : { batchSize: '1', batchUnit: props.item.stockUnit, lines: [] })
}
await fill()
async function choose(line: Line, id: number): Promise<void> { line.measured = await fetchMeasured(id); line.unit = line.measured.stockUnit }
function addLine(): void { form.lines.push({ itemId: null, shown: null, measured: null, quantity: '', unit: 'piece', basis: 'per batch', scrapPercent: '0', note: '' }) }
async function save(): Promise<void> {
  const body = { ...form, version: bill.value?.version ?? null, lines: form.lines.map(({ itemId, quantity, unit, basis, scrapPercent, note }) => ({ itemId, quantity, unit, basis, scrapPercent, note })) }
  if (!await run(() => $fetch(`/api/structure/${props.item.id}/bill`, { method: 'PUT', body }))) return
  notices.say({ kind: 'done', text: `The bill of ${props.item.code} is saved.` })
  await refresh()
  await fill()
  tower.value++
  emit('saved')
}
const tower = ref(0)
</script>

<template>
  <div class="grid grid-cols-[minmax(0,1fr)_24rem] gap-4">
    <form @submit.prevent="save">
      <UiSheet :title="item.source === 'kit' ? 'What one kit holds' : 'What a batch takes'">
        <div class="mb-4 grid grid-cols-4 gap-3">
          <FormQuantity v-model="form.batchSize" v-model:unit="form.batchUnit" label="Batch" :item="item" exact :error="fields.batchSize" />
          <FormText v-model="form.yieldPercent" label="Output yield, %" right :error="fields.yieldPercent" />
          <FormText v-model="form.workMinutes" label="Work a batch, minutes" right :error="fields.workMinutes" />
          <FormText v-model="form.workRate" label="Rate an hour" right :error="fields.workRate" />
        </div>
        <div v-for="(line, index) in form.lines" :key="index" class="mb-2 grid grid-cols-[1fr_11rem_7.5rem_4.5rem_auto] items-start gap-2">
          <FormItem v-model="line.itemId" :shown="line.shown" label="Component" :hide-label="index > 0" :error="fields[`lines.${index}.itemId`]" @chosen="choose(line, $event.id)" />
          <FormQuantity v-model="line.quantity" v-model:unit="line.unit" label="Quantity" :hide-label="index > 0" :item="line.measured" exact :error="fields[`lines.${index}.quantity`]" />
          <FormSelect v-model="line.basis" label="Counted" :hide-label="index > 0" :options="[{ value: 'per batch', name: 'per batch' }, { value: 'per build', name: 'per build' }]" />
          <FormText v-model="line.scrapPercent" label="Scrap, %" right :hide-label="index > 0" :error="fields[`lines.${index}.scrapPercent`]" />
          <UiButton v-if="mayEdit" :class="index === 0 && 'mt-[1.45rem]'" aria-label="Remove this component" @click="form.lines.splice(index, 1)">×</UiButton>
        </div>
        <p v-if="form.lines.length === 0" class="mb-3 text-soft">No components yet.</p>
        <UiProblem :text="fields.lines ?? (Object.keys(fields).length ? '' : detail)" class="mb-3" />
        <div v-if="mayEdit" class="flex gap-2"><UiButton @click="addLine">Add a component</UiButton><UiButton primary type="submit" :busy="busy">Save the bill</UiButton><UiButton v-if="code === 'stale-version'" @click="refresh().then(fill)">Reload</UiButton></div>
      </UiSheet>
    </form>
    <Suspense><StructureTower v-if="bill" :key="tower" :item="item" /></Suspense>
  </div>
</template>
