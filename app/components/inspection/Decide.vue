<script setup lang="ts">
import { asRecorded, judgeSamples } from '~~/core/inspection'
import type { InspectionPage } from '~~/shared/inspection/answers'
import { INSPECTION_DECISIONS, type InspectionDecision } from '~~/shared/inspection/words'

/** What becomes of goods that were inspected. */
const props = defineProps<{
  inspection: InspectionPage
  samples: readonly (readonly string[])[]
  /** Keeps what was typed; answers whether it is kept. */
  save: () => Promise<boolean>
}>()
const emit = defineEmits<{ done: [] }>()
const notices = useNotices()
const { amount } = usePrint()
const { busy, detail, fields, run } = useAct()
const judged = computed(() =>
  judgeSamples(
    props.inspection.plan.characteristics,
    props.samples.map((row) =>
      row.map((text, column) => asRecorded(props.inspection.plan.characteristics[column]!, text)),
    ),
    props.inspection.accept,
  ),
)
const chosen = ref<InspectionDecision | null>(null)
/** What the sample speaks for, until somebody chooses something else. */
const decision = computed({
  get: () => chosen.value ?? (judged.value.verdict === 'fail' ? 'rejected' : 'accepted'),
  set: (value: InspectionDecision) => (chosen.value = value),
})
const reason = ref('')
const accepted = ref('')
const unit = ref(props.inspection.stockUnit)
const measured = ref<Awaited<ReturnType<typeof fetchMeasured>> | null>(null)
void fetchMeasured(props.inspection.itemId).then((found) => (measured.value = found))
const pieceIds = ref<number[]>([])
const isPieces = computed(() => props.inspection.tracking === 'piece')
const NAMES: Readonly<Record<InspectionDecision, string>> = {
  accepted: 'Accept: it may be used',
  'accepted with a reason': 'Accept with a reason',
  sorted: 'Sort: part of it may be used',
  rejected: 'Reject: none of it may be used',
}
const lying = computed(() => {
  const { goods, symbol } = props.inspection
  return goods.map(
    ({ bin, piece, quantity }) => `${amount(quantity, 6)} ${symbol}${piece ? ` (${piece})` : ''} in ${bin}`,
  )
})
const said = computed(() => {
  const { failed, open, samples } = judged.value
  const { accept } = props.inspection
  const most = accept === 0 ? 'none may' : `up to ${accept} may`
  const rest = open > 0 ? `, ${open} still to look at` : ''
  return `${failed} of ${samples.length} ${plural(failed, 'fails', 'fail')}; ${most}${rest}.`
})
const onEnter = useEnter(
  () => void decide(),
  () => true,
)
async function decide(): Promise<void> {
  if (!(await props.save())) {
    return
  }
  const done = await run((key) =>
    $fetch(`/api/stock/inspections/${props.inspection.id}/decide`, {
      method: 'POST',
      body: {
        key,
        version: props.inspection.version,
        decision: decision.value,
        reason: reason.value,
        accepted: decision.value === 'sorted' && !isPieces.value ? accepted.value : null,
        unit: unit.value,
        pieceIds: pieceIds.value,
      },
    }),
  )
  if (done) {
    notices.say({
      kind: 'done',
      postingId: done.postingId ?? undefined,
      text: `${props.inspection.number}: ${decision.value}.`,
    })
    emit('done')
  }
}
</script>

<template>
  <UiSheet title="What becomes of it">
    <p
      class="mb-3 flex items-center gap-2 font-semibold"
      :class="judged.verdict === 'fail' && 'text-brick'"
      data-test="said"
    >
      <GoodsBlock
        :state="judged.verdict === 'fail' ? 'missing' : judged.verdict === 'pass' ? 'on hand' : 'held'"
        class="h-4 w-7 shrink-0"
      />{{ said }}
    </p>
    <p v-if="lying.length === 0" class="mb-3 text-soft">Nothing of it lies on hold any more.</p>
    <ul v-else class="mb-3 text-soft" aria-label="On hold">
      <li v-for="goods in lying" :key="goods">{{ goods }}</li>
    </ul>
    <form class="grid gap-3" @submit.prevent="decide" @keydown.enter="onEnter">
      <UiChoice
        v-model="decision"
        label="Decision"
        :options="INSPECTION_DECISIONS.map((value) => ({ value, name: NAMES[value] }))"
        :error="fields.decision"
      />
      <template v-if="decision === 'sorted'">
        <fieldset v-if="isPieces" class="grid gap-1">
          <legend class="mb-1 text-fine text-soft">May be used</legend>
          <label
            v-for="piece in inspection.goods"
            :key="piece.pieceId ?? 0"
            class="flex items-center gap-2 pointer-coarse:min-h-[44px]"
            ><input v-model="pieceIds" type="checkbox" :value="piece.pieceId" class="size-4 accent-[var(--maple)]" />{{
              piece.piece
            }}
            <span class="text-soft">{{ amount(piece.quantity, 6) }} {{ inspection.symbol }}</span></label
          >
          <p v-if="fields.pieceIds" role="alert" class="text-fine text-brick">{{ fields.pieceIds }}</p>
        </fieldset>
        <UiQuantityField
          v-else-if="measured"
          v-model="accepted"
          v-model:unit="unit"
          label="Quantity that may be used"
          :item="measured"
          :error="fields.accepted"
        />
      </template>
      <UiTextField v-if="decision !== 'accepted'" v-model="reason" label="Reason" :error="fields.reason" />
      <p class="text-soft">
        <template v-if="decision === 'rejected' || decision === 'sorted'"
          >What is rejected stays where it lies, as damaged, until it goes back, is scrapped or reworked.</template
        ><template v-else>It is available where it lies.</template>
      </p>
      <UiProblem v-if="detail && Object.keys(fields).length === 0" :text="detail" />
      <UiButton primary :busy="busy" @click="decide">Record the decision</UiButton>
    </form>
  </UiSheet>
</template>
