<script setup lang="ts">
import { ratio, toText } from '~~/core/units/exact'

const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const references = useReferences()
const notices = useNotices()
const { asTyped, day, isPast, amount } = usePrint()
const { data: job, refresh } = orNotFound(await useFetch(() => `/api/workshop/break-downs/${id.value}`))
const asking = ref(false)
const bins = computed(() => references.bins.filter((bin) => !bin.closedToReceiving && bin.siteId === job.value?.siteId))
const form = reactive({
  binId: bins.value[0]?.id ?? (null as number | null),
  balanceId: null as number | null,
  ownLots: false,
})
const really = reactive<Record<number, string>>(
  Object.fromEntries((job.value?.outputs ?? []).map((output) => [output.itemId, ''])),
)
const { busy, detail, fields, run } = useAct()
useHead({ title: () => `${job.value?.number} · Tsumiki` })

const isShort = computed(() => job.value?.components.some((part) => part.missing !== '0') ?? false)
const act = computed(() => `Break down ${amount(job.value?.take ?? '0', 6)} ${job.value?.symbol ?? ''}`)
const lots = computed(() => {
  if (form.ownLots) {
    return [job.value!.number]
  }
  if (form.balanceId !== null) {
    return [job.value?.choices.find((choice) => choice.balanceId === form.balanceId)?.lot].filter((lot) => lot != null)
  }
  return [
    ...new Set(
      job.value?.components.flatMap((part) => part.takes.map((take) => take.lot)).filter((lot) => lot !== null),
    ),
  ]
})
const comes = (output: { itemId: number; quantity: string }): string => {
  const given = really[output.itemId] ?? ''
  return isPlainDecimal(given) ? given : output.quantity
}
const after = (output: { itemId: number; before: string; quantity: string }): string =>
  toText(ratio(output.before).add(ratio(comes(output))))
const named = computed(() => job.value?.outputs.filter((output) => really[output.itemId]?.trim()) ?? [])
async function changed(): Promise<void> {
  void refreshToday()
  await refresh()
}
async function complete(): Promise<void> {
  const done = await run((key) =>
    $fetch(`/api/workshop/break-downs/${id.value}/complete`, {
      method: 'POST',
      body: {
        key,
        version: job.value!.version,
        ...form,
        outputs: named.value.map((output) => ({
          itemId: output.itemId,
          quantity: asTyped(really[output.itemId]!),
          unit: output.unit,
        })),
      },
    }),
  )
  if (!done) {
    return
  }
  asking.value = false
  notices.say({
    kind: 'done',
    postingId: done.postingId,
    text: `${act.value} ${job.value!.code} recorded${done.lots.length ? `; lot ${done.lots.join(', ')} ${form.ownLots ? 'given' : 'carried over'}` : ''}.`,
  })
  await changed()
}
async function cancel(): Promise<void> {
  if (
    await run(() =>
      $fetch(`/api/workshop/break-downs/${id.value}/cancel`, { method: 'POST', body: { version: job.value!.version } }),
    )
  ) {
    await changed()
  }
}
useKeys([
  {
    key: 'b',
    summary: 'break down',
    act: () => {
      if (job.value?.status === 'planned' && !isShort.value) {
        asking.value = true
      }
    },
  },
])
</script>

<template>
  <div v-if="job">
    <UiHead :title="`${job.number}  ${act} ${job.code}`" :summary="`${job.name} · ${job.site}`">
      <span :class="job.status === 'planned' && isPast(job.dueOn) ? 'font-semibold text-brick' : 'font-semibold'"
        >due {{ day(job.dueOn) }}</span
      >
      <UiTag v-if="job.status !== 'planned'" :tone="job.status === 'done' ? 'good' : 'plain'">{{ job.status }}</UiTag>
      <template v-else-if="session.allows('make')"
        ><UiButton :busy="busy" @click="cancel">Cancel the break-down</UiButton
        ><UiButton
          primary
          :disabled="isShort"
          :title="isShort ? 'The bulk item is missing' : undefined"
          @click="asking = true"
          >{{ act }}</UiButton
        ></template
      >
    </UiHead>
    <UiProblem :text="asking ? '' : detail" class="mb-3" />
    <div class="mb-4 grid grid-cols-1 sm:grid-cols-2 gap-4">
      <UiSheet title="Takes" flush>
        <StockTakes v-if="job.components.length" :components="job.components" />
        <p v-else class="p-4 text-soft">Done; see the moves below.</p>
        <p v-if="job.loss !== '0'" class="border-t border-line/60 px-4 py-2 text-soft" data-test="loss">
          Of it {{ amount(job.loss, 6) }} {{ job.symbol }} are lost;
          {{ job.lossWrittenOff ? 'their value is written off' : 'what comes out bears their cost' }}.
        </p>
      </UiSheet>
      <UiSheet title="Gives" flush>
        <UiLinesTable class="w-full">
          <tbody>
            <tr v-for="output in job.outputs" :key="output.itemId" class="h-9 border-t border-line/60 first:border-0">
              <td class="px-3"><UiItemChip :id="output.itemId" :code="output.code" :name="output.name" /></td>
              <td class="px-3 text-right"><UiQty strong :of="output.quantity" :unit="output.symbol" /></td>
              <td v-if="job.status === 'planned'" class="px-3 text-right">
                <UiChange :before="amount(output.before, 6)" :after="amount(output.after, 6)" :unit="output.symbol" />
              </td>
            </tr>
          </tbody>
        </UiLinesTable>
      </UiSheet>
    </div>
    <StockPostings :postings="job.postings" @reversed="changed" />
    <UiDialog
      v-model="asking"
      records
      wide
      :title="`${act} ${job.code}?`"
      :act="act"
      :busy="busy"
      :problem="Object.keys(fields).length ? '' : detail"
      @act="complete"
    >
      <div class="mb-3 grid grid-cols-2 md:grid-cols-3 gap-3">
        <UiChoice
          v-model="form.balanceId"
          label="From"
          :options="[
            { value: null, name: 'by the order of picking' },
            ...job.choices.map((choice) => ({
              value: choice.balanceId,
              name: `${[choice.bin, choice.piece, choice.lot, choice.expiresOn && `until ${day(choice.expiresOn)}`].filter(Boolean).join(', ')}: ${amount(choice.free, 6)} ${job!.symbol}`,
            })),
          ]"
          :error="fields.balanceId"
        />
        <UiChoice
          v-model="form.binId"
          label="Into"
          :options="bins.map((bin) => ({ value: bin.id, name: bin.name }))"
          :error="fields.binId"
        />
        <UiCheckField
          v-if="job.outputs.some((output) => output.tracking !== 'none')"
          v-model="form.ownLots"
          class="self-end pb-2"
          :label="`Own lot number ${job.number}`"
        />
      </div>
      <StockTakes v-if="form.balanceId === null" :components="job.components" />
      <div
        v-for="output in job.outputs"
        :key="output.itemId"
        class="mt-3 grid grid-cols-1 md:grid-cols-[1fr_11rem] items-center gap-3"
      >
        <p class="flex items-center gap-2">
          <GoodsBlock state="on hand" class="h-4 w-8" />{{ output.code }}:
          <UiChange :before="amount(output.before, 6)" :after="amount(after(output), 6)" :unit="output.symbol" /><span
            v-if="output.tracking !== 'none' && lots.length"
            class="text-soft"
            >as lot {{ lots.join(', ') }}</span
          >
        </p>
        <UiTextField
          v-model="really[output.itemId]!"
          right
          hide-label
          :label="`Actual output of ${output.code}, in ${output.symbol}`"
          :placeholder="`else ${amount(output.quantity, 6)}`"
          :error="fields[`outputs.${named.indexOf(output)}.quantity`]"
        />
      </div>
    </UiDialog>
  </div>
</template>
