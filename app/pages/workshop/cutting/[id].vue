<script setup lang="ts">
import { toDecimal } from '~~/core/units/exact'
import type { CuttingAnswer } from '~~/shared/workshop/cutting'
import type { MeasuredItem } from '~/composables/ui/use-measure'
import type { WantedRow } from '~/components/workshop/CutWanted.vue'

const id = Number(useRoute().params.id)
const session = useSession()
const references = useReferences()
const notices = useNotices()
const { asTyped, day, isPast, amount } = usePrint()
const answer = orNotFound(await useFetch(`/api/workshop/cutting/${id}`))
const job = computed(() => answer.data.value as CuttingAnswer)
const cutting = useCutting(() => job.value)
const { busy, detail, fields, code, run } = useAct()
const accepting = useAct()
const item = ref<MeasuredItem | null>(null)
onMounted(async () => {
  item.value = await fetchMeasured(job.value.itemId)
})
useHead({ title: () => `${job.value.number} · Tsumiki` })
const isDraft = computed(() => job.value.status === 'draft')
const mayEdit = computed(() => isDraft.value && session.allows('make'))
const asForm = (): WantedRow[] =>
  job.value.wanted.map((cut) => ({
    job: cut.job,
    quantity: asTyped(cut.entered),
    unit: cut.unit,
    count: String(cut.count),
  }))
const rows = ref<WantedRow[]>(
  job.value.wanted.length > 0 ? asForm() : [{ job: '', quantity: '', unit: 'cm', count: '1' }],
)
const form = reactive({
  dueOn: job.value.dueOn,
  note: job.value.note,
  kerf: job.value.kerf === '0' ? '' : asTyped(job.value.kerf),
  kerfUnit: job.value.unit,
  keep: job.value.keep === '0' ? '' : asTyped(job.value.keep),
  keepUnit: job.value.unit,
  oneLot: job.value.oneLot,
})
const asking = ref(false)
const binId = ref<number | null>(null)
const bins = computed(() => references.bins.filter((bin) => bin.siteId === job.value.siteId && !bin.closedToReceiving))

async function save(plan = cutting.asPlan.value): Promise<boolean> {
  const wanted = rows.value.filter((row) => row.quantity.trim() !== '')
  const done = await run(() =>
    $fetch(`/api/workshop/cutting/${id}`, {
      method: 'PUT',
      body: { version: job.value.version, ...form, kerf: form.kerf || '0', keep: form.keep || '0', wanted, plan },
    }),
  )
  if (!done) {
    return false
  }
  await answer.refresh()
  return true
}
/** The lengths are kept first, so that what is proposed is for what stands there. */
async function propose(): Promise<void> {
  if (!(await save(null))) {
    return
  }
  cutting.clear()
  await cutting.propose()
  await save()
}
async function accept(): Promise<void> {
  if (!(await save())) {
    asking.value = false
    return
  }
  const done = await accepting.run((key) =>
    $fetch(`/api/workshop/cutting/${id}/accept`, {
      method: 'POST',
      body: { key, version: job.value.version, binId: binId.value },
    }),
  )
  if (!done) {
    return
  }
  asking.value = false
  notices.say({
    kind: 'done',
    text: `${done.labels.length} ${plural(done.labels.length, 'length', 'lengths')} cut from ${done.postingIds.length} ${plural(done.postingIds.length, 'piece', 'pieces')}; ${amount(done.lost, 4)} ${job.value.symbol} lost.`,
  })
  await answer.refresh()
}
async function act(what: 'cancel' | 'undo'): Promise<void> {
  if (
    await run((key) =>
      $fetch<object>(`/api/workshop/cutting/${id}/${what}`, {
        method: 'POST',
        body: { key, version: job.value.version },
      }),
    )
  ) {
    await answer.refresh()
  }
}
const near = computed(() => {
  if (cutting.above.value === null) {
    return ''
  }
  if (cutting.plan.value.consumed <= (cutting.found.value?.bound ?? 0)) {
    return 'No way of cutting uses up less.'
  }
  return `At least ${amount(cutting.measure(cutting.found.value!.bound), 4)} ${job.value.symbol} are needed whatever way it is cut: this is at most ${toDecimal(cutting.above.value.mul(100), 1)} % above it.`
})
const lost = computed(() => cutting.plan.value.consumed - cutting.plan.value.wanted)
const printing = ref(false)
useKeys([
  {
    key: 'p',
    summary: 'propose cuts',
    act: () => {
      if (mayEdit.value) {
        void propose()
      }
    },
  },
])
</script>

<template>
  <div>
    <UiHead
      :title="`${job.number}  Cut ${job.code}`"
      :summary="`${job.name} · ${job.site}${job.note ? ` · ${job.note}` : ''}`"
    >
      <span :class="isDraft && isPast(job.dueOn) ? 'font-semibold text-brick' : 'font-semibold'"
        >due {{ day(job.dueOn) }}</span
      >
      <UiTag v-if="!isDraft" :tone="job.status === 'done' ? 'good' : 'plain'">{{ job.status }}</UiTag>
      <template v-if="mayEdit"
        ><UiButton :busy="busy" @click="act('cancel')">Cancel the job</UiButton
        ><UiButton :busy="busy || cutting.isBusy.value" @click="propose">Propose cuts</UiButton
        ><UiButton
          primary
          :disabled="
            cutting.plan.value.cuts.length === 0 || cutting.plan.value.missing.length > 0 || cutting.isOver.value
          "
          @click="asking = true"
          >Cut {{ cutting.plan.value.cuts.length || '' }}
          {{ plural(cutting.plan.value.cuts.length, 'piece', 'pieces') }}</UiButton
        ></template
      >
      <UiButton v-else-if="job.status === 'done' && session.allows('make')" :busy="busy" @click="act('undo')"
        >Reverse all of it</UiButton
      >
    </UiHead>
    <UiProblem :text="Object.keys(fields).length && isDraft ? '' : detail" class="mb-3" />
    <UiButton v-if="code === 'stale-version'" class="mb-3" @click="answer.refresh()">Reload</UiButton>
    <div v-if="isDraft" class="grid items-start gap-4 xl:grid-cols-[30rem_minmax(0,1fr)]">
      <UiSheet title="What is wanted">
        <WorkshopCutWanted v-model="rows" :item="item" :fields="fields" :disabled="!mayEdit" :unit="job.unit" />
        <div class="mt-4 grid grid-cols-1 sm:grid-cols-2 gap-3 border-t border-line pt-3">
          <UiQuantityField
            v-model="form.kerf"
            v-model:unit="form.kerfUnit"
            label="Kerf"
            :item="item"
            :error="fields.kerf"
          />
          <UiQuantityField
            v-model="form.keep"
            v-model:unit="form.keepUnit"
            label="Shortest usable offcut"
            :item="item"
            :error="fields.keep"
          />
          <UiCheckField
            v-model="form.oneLot"
            class="sm:col-span-2"
            label="Each job from one lot"
            :disabled="!mayEdit"
          />
        </div>
        <p v-if="form.keep === ''" class="mt-1 text-fine text-soft">Without a length, every offcut counts as lost.</p>
      </UiSheet>
      <UiSheet title="What is cut from what">
        <template #head
          ><span v-if="cutting.isBusy.value" class="text-soft" role="status">Working it out …</span></template
        >
        <p v-if="cutting.plan.value.cuts.length" class="mb-3 flex flex-wrap items-baseline gap-x-4" data-test="cut-sum">
          <span
            ><b class="text-lg font-semibold"
              >{{ amount(cutting.measure(cutting.plan.value.wanted), 4) }} {{ job.symbol }}</b
            >
            cut from {{ cutting.plan.value.cuts.length }}
            {{ plural(cutting.plan.value.cuts.length, 'piece', 'pieces') }}</span
          ><span
            ><b class="font-semibold" data-test="cut-lost">{{ amount(cutting.measure(lost), 4) }} {{ job.symbol }}</b>
            lost</span
          ><span v-if="cutting.plan.value.kept"
            >{{ amount(cutting.measure(cutting.plan.value.kept), 4) }} {{ job.symbol }} go back</span
          ><span class="text-soft">{{ near }}</span>
        </p>
        <p v-if="cutting.mixed.value.length" role="alert" class="mb-2 text-brick">
          {{ cutting.mixed.value.map((name) => name || 'The job').join(', ') }} would come from more than one lot.
        </p>
        <WorkshopCutPattern
          v-if="job.stock.length"
          :stock="job.stock"
          :wanted="job.wanted"
          :cuts="cutting.cuts.value"
          :pieces="cutting.plan.value.cuts"
          :missing="cutting.plan.value.missing"
          :symbol="job.symbol"
          :steps="cutting.steps"
          :measure="cutting.measure"
          :disabled="!mayEdit"
          @parts="cutting.setParts"
          @move="cutting.move"
        />
        <UiEmptyState v-else title="No pieces" :summary="`No piece of ${job.code} lies free at ${job.site}.`" />
      </UiSheet>
    </div>
    <UiSheet v-else title="What was cut" flush class="mb-4">
      <template #head><UiButton v-if="job.made.length" small @click="printing = true">Print labels</UiButton></template>
      <ul>
        <li
          v-for="piece in job.made"
          :key="piece.pieceId"
          class="flex items-center gap-3 border-b border-line/60 px-4 py-2 last:border-0"
        >
          <GoodsBlock state="on hand" class="h-3.5 w-6" /><NuxtLink
            :to="`/stock/pieces/${piece.pieceId}`"
            class="font-medium underline"
            >{{ piece.label }}</NuxtLink
          ><span>{{ amount(piece.quantity, 4) }} {{ job.symbol }}</span
          ><span class="text-soft">{{
            [piece.note, piece.lot && `lot ${piece.lot}`, `from ${piece.from}`].filter(Boolean).join(' · ')
          }}</span>
        </li>
      </ul>
      <UiEmptyState v-if="job.made.length === 0" title="Nothing" summary="This job cut nothing." />
    </UiSheet>
    <StockPostings :postings="job.postings" class="mt-4" @reversed="answer.refresh()" />
    <StockLabels
      v-if="printing"
      :things="job.made.map((entry) => ({ lotId: null, pieceId: entry.pieceId, name: entry.label }))"
      @close="printing = false"
    />
    <UiDialog
      v-model="asking"
      records
      :title="`Cut ${cutting.plan.value.cuts.length} ${plural(cutting.plan.value.cuts.length, 'piece', 'pieces')} of ${job.code}?`"
      :act="`Cut ${amount(cutting.measure(cutting.plan.value.wanted), 4)} ${job.symbol}`"
      :busy="busy || accepting.busy.value"
      :problem="accepting.detail.value"
      @act="accept"
    >
      <ul class="grid gap-1">
        <li v-for="cut in cutting.plan.value.cuts" :key="cut.stock">
          {{ job.stock.find((piece) => String(piece.pieceId) === cut.stock)?.label }}:
          {{ amount(cutting.measure(cut.length), 4) }} →
          <b class="font-semibold">{{
            cut.isKept ? `${amount(cutting.measure(cut.rest), 4)} ${job.symbol}` : 'nothing'
          }}</b>, {{ cut.parts.length }} {{ plural(cut.parts.length, 'length', 'lengths')
          }}<span v-if="!cut.isKept && cut.rest > 0" class="text-soft"
            >, {{ amount(cutting.measure(cut.rest), 4) }} {{ job.symbol }} lost</span
          >
        </li>
      </ul>
      <UiChoice
        v-model="binId"
        class="mt-3 w-64"
        label="Lengths into"
        :options="[
          { value: null, name: 'the bin of their piece' },
          ...bins.map((bin) => ({ value: bin.id, name: bin.name })),
        ]"
      />
    </UiDialog>
  </div>
</template>
