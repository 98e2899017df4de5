<script setup lang="ts">
import { ratio, toText } from '~~/core/units/exact'
import { readStockQuantity, typedQuantity } from '~~/core/units/quantity'
import type { BuildAnswer } from '~~/shared/workshop/answers'
import type { MeasuredItem } from '~/composables/ui/use-measure'

const props = defineProps<{ build: BuildAnswer }>()
const emit = defineEmits<{ done: []; close: []; stale: [] }>()
const references = useReferences()
const session = useSession()
const notices = useNotices()
const { money, amount, asTyped } = usePrint()
const { busy, detail, fields, code, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const packs = computed(() => props.build.source === 'kit')
const verb = computed(() => (packs.value ? 'Pack' : 'Build'))
const bins = computed(() =>
  references.bins.filter((bin) => bin.siteId === props.build.siteId && !bin.closedToReceiving),
)
const own = ref<MeasuredItem | null>(null)
const { measure } = useMeasure(() => own.value)
const form = reactive({
  made: asTyped(props.build.left),
  unit: props.build.unit,
  binId: usualBin(bins.value),
  lot: props.build.number,
  expiresOn: '',
  minutes: '',
  effectiveOn: '',
  finished: false,
  withSubAssemblies: false,
})
const pieces = ref<{ quantity: string; label: string }[]>([])
const byProducts = ref(props.build.byProducts.map((byProduct) => ({ ...byProduct, typed: '' })))
onMounted(async () => {
  own.value = await fetchMeasured(props.build.itemId)
})

const made = computed(() => {
  const read =
    measure.value && form.made.trim() !== ''
      ? readStockQuantity(typedQuantity(form.made), form.unit, measure.value, 'recorded', session.company?.decimalSign)
      : null
  return read?.ok ? read.value.quantity : ratio(0)
})
const uses = useBuildUses(
  () => props.build,
  () => made.value,
)
/** Whether the build has changed since the draft was typed: what it says may have been recorded meanwhile. */
const hasChanged = ref(false)
const draft = useDraft(`build ${props.build.id}`, {
  read: () => ({
    version: props.build.version,
    form: { ...form },
    pieces: pieces.value,
    uses: uses.kept(),
    byProducts: byProducts.value.map(({ itemId, typed }) => ({ itemId, typed })),
  }),
  write: (state) => {
    hasChanged.value = state.version !== props.build.version
    Object.assign(form, state.form)
    pieces.value = state.pieces
    void uses.bringBack(state.uses)
    for (const byProduct of byProducts.value) {
      byProduct.typed = state.byProducts.find(({ itemId }) => itemId === byProduct.itemId)?.typed ?? ''
    }
  },
})
const ends = computed(() => form.finished || made.value.compare(ratio(props.build.left)) >= 0)
const body = computed(() => ({
  version: props.build.version,
  made: form.made,
  unit: form.unit,
  binId: form.binId,
  lot: form.lot,
  expiresOn: form.expiresOn || null,
  minutes: form.minutes,
  effectiveOn: form.effectiveOn || null,
  finished: form.finished,
  withSubAssemblies: form.withSubAssemblies,
  uses: uses.rows.value.map((row) => ({
    lineId: row.line.id,
    quantity: row.quantity,
    unit: row.unit,
    balanceId: row.balanceId,
    scrap: row.scrap,
  })),
  pieces: pieces.value
    .filter((piece) => piece.quantity.trim() !== '')
    .map((piece) => ({ ...piece, quantity: asTyped(piece.quantity) })),
  byProducts: byProducts.value
    .filter((byProduct) => byProduct.typed.trim() !== '')
    .map((byProduct) => ({ itemId: byProduct.itemId, quantity: asTyped(byProduct.typed), unit: byProduct.unit })),
}))
const act = computed(() => {
  if (made.value.equals(0)) {
    if (form.finished) {
      return 'Finish the build'
    }
    return 'Record what was used'
  }
  return `${verb.value} ${amount(toText(made.value), 6)}`
})
async function save(): Promise<void> {
  const done = await run((key) =>
    $fetch(`/api/workshop/builds/${props.build.id}/record`, { method: 'POST', body: { key, ...body.value } }),
  )
  if (!done) {
    return
  }
  draft.discard()
  const what = made.value.equals(0)
    ? `What ${props.build.number} used is recorded`
    : `${act.value} ${props.build.code} recorded${done.lot ? ` as lot ${done.lot}` : ''}${done.value ? `, worth ${money(done.value)}` : ''}`
  notices.say({
    kind: 'done',
    postingId: done.postingId ?? undefined,
    text: `${what}${done.withSubAssemblies.length ? `; built beside it: ${done.withSubAssemblies.map((entry) => `${entry.quantity} ${entry.code}`).join(', ')}` : ''}${done.writtenOff !== '0' ? `; ${money(done.writtenOff)} in work written off` : ''}.${done.inspections.map(({ number }) => ` It waits on hold for inspection ${number}.`).join('')}`,
  })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    records
    wide
    :title="`What came of ${build.number}, and what it took`"
    :act="act"
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <UiDraft :since="draft.since.value" @anew="draft.beginAnew()" />
    <UiProblem
      v-if="hasChanged"
      class="mb-3"
      text="The build has changed since you typed this: look whether it was recorded meanwhile, or begin anew."
    />
    <div class="grid grid-cols-2 md:grid-cols-4 gap-3">
      <UiQuantityField
        v-model="form.made"
        v-model:unit="form.unit"
        :label="packs ? 'Packed' : 'Came out good'"
        :item="own"
        :error="fields.made"
      />
      <UiChoice
        v-model="form.binId"
        label="Into"
        :options="bins.map((bin) => ({ value: bin.id, name: bin.name }))"
        :error="fields.binId"
      />
      <UiTextField v-if="build.tracking !== 'none'" v-model="form.lot" label="Lot" :error="fields.lot" />
      <UiDateField
        v-if="build.tracking !== 'none'"
        v-model="form.expiresOn"
        label="Expires on"
        :error="fields.expiresOn"
        :hint="build.shelfLifeDays && !form.expiresOn ? `else after ${build.shelfLifeDays} days` : ''"
      />
      <UiTextField
        v-if="!packs"
        v-model="form.minutes"
        label="Minutes worked"
        right
        :hint="form.minutes ? '' : `else by the bill: ${amount(build.minutesLeft, 1)} for the rest`"
        :error="fields.minutes"
      />
      <UiDateField v-model="form.effectiveOn" label="Made on" placeholder="today" :error="fields.effectiveOn" />
    </div>
    <p class="mt-2 flex items-center gap-2">
      <GoodsBlock state="on hand" class="h-4 w-8" />{{ build.code }}:
      <UiChange
        :before="amount(build.onHand, 6)"
        :after="amount(toText(ratio(build.onHand).add(made)), 6)"
        :unit="build.symbol"
      /><span v-if="!ends" class="text-soft"
        >{{ amount(toText(ratio(build.left).sub(made)), 6) }} {{ build.symbol }} still to come</span
      >
    </p>
    <div v-if="build.tracking === 'piece'" class="mt-3 flex flex-wrap items-end gap-2">
      <UiTextField
        v-for="(piece, index) in pieces"
        :key="index"
        v-model="piece.quantity"
        right
        class="w-28"
        :label="`Piece ${index + 1} measures`"
        :error="fields[`pieces.${index}.quantity`]"
      /><UiButton small @click="pieces.push({ quantity: '', label: '' })">{{
        pieces.length ? 'Another piece' : 'More than one piece'
      }}</UiButton>
    </div>

    <h3 class="mt-4 mb-1 font-semibold">Components</h3>
    <WorkshopRecordUses :components="build.components" :uses="uses" :fields="fields" />
    <template v-if="byProducts.length">
      <h3 class="mt-4 mb-1 font-semibold">By-products</h3>
      <div class="flex flex-wrap gap-3">
        <UiTextField
          v-for="(byProduct, index) in byProducts"
          :key="byProduct.itemId"
          v-model="byProduct.typed"
          class="w-52"
          right
          :label="`${byProduct.code}, in ${byProduct.symbol}`"
          :hint="byProduct.typed ? '' : 'else as the bill says'"
          :error="fields[`byProducts.${index}.quantity`]"
        />
      </div>
    </template>
    <div class="mt-4 flex flex-wrap gap-x-6 gap-y-1">
      <UiCheckField
        v-if="
          build.components.some(
            (line) => line.missing !== '0' && line.remedies.some((remedy) => remedy.kind === 'build'),
          )
        "
        v-model="form.withSubAssemblies"
        label="Build what is missing of sub-assemblies beside it"
      />
      <UiCheckField
        v-if="!made.equals(0) ? made.compare(ratio(build.left)) < 0 : true"
        v-model="form.finished"
        label="Nothing more will come of it"
      />
    </div>
    <UiButton v-if="code === 'stale-version'" class="mt-2" @click="emit('stale')">Reload</UiButton>
  </UiDialog>
</template>
