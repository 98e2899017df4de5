<script setup lang="ts">
import { ratio, toText } from '~~/core/units/exact'
import type { BuildAnswer, BuildLineAnswer, Remedy } from '~~/shared/workshop/answers'
import type { MeasuredItem } from '~/composables/ui/use-measure'

const props = defineProps<{
  build: BuildAnswer
  line: BuildLineAnswer
  remedy: Extract<Remedy, { kind: 'substitute' }> | null
}>()
const emit = defineEmits<{ done: []; close: [] }>()
const notices = useNotices()
const { amount, asTyped } = usePrint()
const { typedNumber } = useTypedNumber()
const { written } = useWritten()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const form = reactive({
  itemId: props.remedy?.itemId ?? (null as number | null),
  quantity: asTyped(props.remedy?.covers ?? ''),
  unit: 'piece',
})
const measured = ref<MeasuredItem | null>(null)
async function chosen(id: number): Promise<void> {
  measured.value = await fetchMeasured(id)
  form.unit = measured.value.stockUnit
}
if (props.remedy) {
  onMounted(() => chosen(props.remedy!.itemId))
}
const covers = computed(() => {
  const typed = typedNumber(form.quantity)
  return typed && props.remedy && measured.value && form.unit === measured.value.stockUnit
    ? toText(typed.div(ratio(props.remedy.per)))
    : null
})
async function save(): Promise<void> {
  if (
    !(await run(() =>
      $fetch(`/api/workshop/builds/${props.build.id}/substitute`, {
        method: 'POST',
        body: {
          version: props.build.version,
          lineId: props.line.id,
          itemId: form.itemId,
          quantity: form.quantity,
          unit: form.unit,
        },
      }),
    ))
  ) {
    return
  }
  notices.say({
    kind: 'done',
    text: `${written(form.quantity, form.unit)} ${props.remedy?.code ?? 'of it'} stands in for ${props.line.code}.`,
  })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    :title="`Instead of ${line.code}`"
    :act="form.quantity ? `Use ${written(form.quantity, form.unit)} instead` : 'Use it instead'"
    :busy="busy"
    :disabled="form.itemId === null || form.quantity === ''"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <p class="mb-3 text-soft">
      {{ build.number }} still takes {{ amount(line.next, 6) }} {{ line.symbol }} {{ line.code }} {{ line.name
      }}<template v-if="line.missing !== '0'">; {{ amount(line.missing, 6) }} {{ line.symbol }} are missing</template>.
      This changes the job, not the bill.
    </p>
    <div class="grid grid-cols-1 sm:grid-cols-2 gap-3">
      <UiItemField
        v-model="form.itemId"
        :shown="remedy ? { id: remedy.itemId, code: remedy.code, name: remedy.name } : null"
        label="Item"
        :error="fields.itemId"
        @chosen="chosen($event.id)"
      />
      <UiQuantityField
        v-model="form.quantity"
        v-model:unit="form.unit"
        label="How much of it"
        :item="measured"
        :error="fields.quantity"
      />
    </div>
    <p v-if="covers && remedy" class="mt-2 text-soft">
      {{ amount(remedy.per, 6) }} {{ remedy.symbol }} for one {{ line.symbol }}: it covers {{ amount(covers, 6) }}
      {{ line.symbol }} {{ line.code }}.
    </p>
  </UiDialog>
</template>
