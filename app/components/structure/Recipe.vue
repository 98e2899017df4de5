<script setup lang="ts">
import type { MeasuredItem } from '~/composables/use-measure'

const props = defineProps<{ item: MeasuredItem & { code: string }, mayEdit: boolean }>()
const notices = useNotices()
const { data: recipe, refresh } = await useFetch(() => `/api/structure/${props.item.id}/recipe`)
const { busy, detail, fields, run } = useAct()

interface Output { itemId: number | null, shown: { id: number, code: string, name: string } | null, measured: MeasuredItem | null, quantity: string, unit: string, share: string }
const form = reactive({ take: '1', unit: props.item.stockUnit, note: '', outputs: [] as Output[] })
async function fill(): Promise<void> {
  const r = recipe.value
  if (r) Object.assign(form, { take: r.take, unit: r.unit, note: r.note, outputs: await Promise.all(r.outputs.map(async o => ({ itemId: o.itemId, shown: { id: o.itemId, code: o.code, name: o.name }, measured: await fetchMeasured(o.itemId), quantity: o.quantity, unit: o.unit, share: o.share }))) })
}
await fill()
async function choose(output: Output, id: number): Promise<void> { output.measured = await fetchMeasured(id); output.unit = output.measured.stockUnit }
async function save(): Promise<void> {
  const body = { take: form.take, unit: form.unit, note: form.note, version: recipe.value?.version ?? null, outputs: form.outputs.map(({ itemId, quantity, unit, share }) => ({ itemId, quantity, unit, share })) }
  if (!await run(() => $fetch(`/api/structure/${props.item.id}/recipe`, { method: 'PUT', body }))) return
  notices.say({ kind: 'done', text: `The break-down of ${props.item.code} is saved.` })
  await refresh()
}
</script>

<template>
  <form @submit.prevent="save">
    <UiSheet title="How it breaks down into smaller units">
      <p v-if="form.outputs.length === 0" class="mb-3 text-soft">{{ item.code }} is not broken down. Where it is bought in bulk and used in small, say what one of it gives.</p>
      <div v-else class="mb-3 w-64"><FormQuantity v-model="form.take" v-model:unit="form.unit" label="Take" :item="item" exact :error="fields.take" /></div>
      <div v-for="(output, index) in form.outputs" :key="index" class="mb-2 grid grid-cols-[1fr_14rem_8rem_auto] items-start gap-2">
        <FormItem v-model="output.itemId" :shown="output.shown" source="broken down" label="Gives" :hide-label="index > 0" :error="fields[`outputs.${index}.itemId`]" @chosen="choose(output, $event.id)" />
        <FormQuantity v-model="output.quantity" v-model:unit="output.unit" label="Quantity" :hide-label="index > 0" :item="output.measured" exact :error="fields[`outputs.${index}.quantity`]" />
        <FormText v-model="output.share" label="Share of cost" right :hide-label="index > 0" :error="fields[`outputs.${index}.share`]" />
        <UiButton v-if="mayEdit" :class="index === 0 && 'mt-[1.45rem]'" aria-label="Remove this output" @click="form.outputs.splice(index, 1)">×</UiButton>
      </div>
      <UiProblem :text="Object.keys(fields).length ? '' : detail" class="mb-3" />
      <div v-if="mayEdit" class="flex gap-2"><UiButton @click="form.outputs.push({ itemId: null, shown: null, measured: null, quantity: '', unit: 'piece', share: '1' })">Add an output</UiButton><UiButton v-if="form.outputs.length" primary type="submit" :busy="busy">Save the break-down</UiButton></div>
    </UiSheet>
  </form>
</template>
