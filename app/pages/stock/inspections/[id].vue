<script setup lang="ts">
import { describeRule } from '~~/shared/inspection/words'

/** One inspection: what is found, and what becomes of the goods. */
const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const { amount, day } = usePrint()
const { data: found, refresh } = orNotFound(await useFetch(() => `/api/stock/inspections/${id.value}`))
useHead({ title: () => `${found.value?.number} · Tsumiki` })

const isOpen = computed(() => found.value?.status === 'open' && session.allows('inspect'))
/** The results as they are typed: a row for each of the sample, whatever was kept of it so far. */
function formOf() {
  const { samples, sampleSize, plan, instrument, pictureId } = found.value!
  return {
    samples: Array.from({ length: sampleSize }, (_, row) =>
      plan.characteristics.map((_, column) => samples[row]?.[column] ?? ''),
    ),
    instrument,
    pictureId,
  }
}
const form = ref(formOf())
const version = ref(found.value!.version)
const saving = useSaving(
  form,
  async (edit) => {
    const stored = await $fetch(`/api/stock/inspections/${id.value}/results`, {
      method: 'PUT',
      body: { ...edit, version: version.value },
    })
    version.value = stored.version
  },
  () => isOpen.value,
)
const current = computed(() => ({ ...found.value!, version: version.value }))
async function keep(): Promise<boolean> {
  await saving.commit()
  return !saving.isDirty.value
}
async function reload(): Promise<void> {
  await refresh()
  version.value = found.value!.version
  saving.accept(formOf())
  void refreshToday()
}
/** “5 of each lot; none may fail.”, “ISO 2859-1, level II, limit 1.0, normal, code letter H: 50; up to 1 may fail.” */
const sampleText = computed(() => {
  const { plan, letter, sampleSize, accept } = found.value!
  const code = letter === '' ? '' : `, code letter ${letter}`
  const size = plan.rule.kind === 'number' && plan.rule.number === sampleSize ? '' : `: ${sampleSize}`
  return `${describeRule(plan.rule)}${code}${size}; ${accept === 0 ? 'none' : `up to ${accept}`} may fail.`
})
</script>

<template>
  <div v-if="found">
    <UiHead
      :title="`${found.number}  ${found.code} ${found.name}`"
      :summary="`${amount(found.quantity, 6)} ${found.symbol}${found.lots ? `, lot ${found.lots}` : ''}, on hold since ${day(found.openedOn)}. Plan ${found.plan.code} ${found.plan.name}.`"
    >
      <UiSaveState
        v-if="isOpen"
        :state="saving.state.value"
        :detail="saving.detail.value"
        :stale="saving.code.value === 'stale-version'"
        @back="saving.back"
        @reload="reload"
      />
      <UiTag v-if="found.status !== 'open'" :tone="found.decision?.startsWith('accepted') ? 'good' : 'plain'">{{
        found.decision ?? found.status
      }}</UiTag>
      <NuxtLink
        v-if="found.orderId"
        :to="`/purchasing/${found.orderId}`"
        class="inline-flex h-9 items-center rounded-block border border-line bg-sheet px-3.5 font-medium hover:bg-wash"
        >Its purchase order</NuxtLink
      >
      <NuxtLink
        v-else-if="found.buildId"
        :to="`/workshop/builds/${found.buildId}`"
        class="inline-flex h-9 items-center rounded-block border border-line bg-sheet px-3.5 font-medium hover:bg-wash"
        >Its build</NuxtLink
      >
    </UiHead>
    <p class="mb-3">
      {{ found.source }}<template v-if="found.supplier">, from {{ found.supplier }}</template
      >. Sample: {{ sampleText }}
      <span v-if="found.before.decided" class="text-soft"
        >Of {{ found.before.decided }} {{ plural(found.before.decided, 'inspection', 'inspections') }} of it before,
        {{ found.before.rejected }} {{ plural(found.before.rejected, 'was', 'were') }} sorted or rejected.</span
      >
    </p>
    <UiProblem v-if="saving.code.value === 'stale-version'" :text="saving.detail.value" class="mb-3" />
    <div class="grid items-start gap-4 lg:grid-cols-[1fr_22rem]">
      <UiSheet title="What was found">
        <InspectionSamples
          v-model="form.samples"
          :characteristics="found.plan.characteristics"
          :accept="found.accept"
          :fields="saving.fields.value"
          :disabled="!isOpen"
        />
        <div class="mt-4 grid gap-3 sm:grid-cols-2" data-saves>
          <UiTextField
            v-model="form.instrument"
            label="Instrument"
            hint="with which it was measured"
            :disabled="!isOpen"
            :error="saving.fields.value.instrument"
          />
          <CataloguePicture v-model="form.pictureId" label="Picture or certificate" :disabled="!isOpen" />
        </div>
      </UiSheet>
      <div class="grid gap-4">
        <InspectionDecide v-if="isOpen" :inspection="current" :samples="form.samples" :save="keep" @done="reload" />
        <UiSheet v-else-if="found.status === 'open'" title="What becomes of it">
          <p>It waits on hold. Only whoever may inspect says what becomes of it.</p>
        </UiSheet>
        <UiSheet v-else-if="found.status === 'decided'" title="What became of it" data-test="decided">
          <p class="mb-2">
            <b class="font-semibold">{{ found.decision }}</b> by {{ found.decidedBy }}, {{ day(found.decidedOn) }}.
            {{ found.reason }}
          </p>
          <p v-if="found.accepted !== '0'" class="flex items-center gap-2">
            <GoodsBlock state="on hand" class="h-3 w-5 border" /><UiQty :of="found.accepted" :unit="found.symbol" /> may
            be used
          </p>
          <p v-if="found.rejected !== '0'" class="flex items-center gap-2">
            <GoodsBlock state="missing" class="h-3 w-5 border" /><UiQty :of="found.rejected" :unit="found.symbol" /> may
            not
          </p>
          <p v-if="found.rejected !== '0' && found.orderId" class="mt-3">
            <NuxtLink :to="`/purchasing/${found.orderId}`" class="underline">Return it to the supplier</NuxtLink>, or
            <NuxtLink :to="`/stock?correct=${found.itemId}`" class="underline">scrap it</NuxtLink>.
          </p>
        </UiSheet>
      </div>
    </div>
    <Suspense><InspectionRunCharts class="mt-4" :plan="found.planId" :item="found.itemId" /></Suspense>
    <StockPostings v-if="found.postings.length" class="mt-4" :postings="found.postings" @reversed="reload" />
  </div>
</template>
