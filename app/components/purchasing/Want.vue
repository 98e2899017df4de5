<script setup lang="ts">
/** Something that wants buying is written down, for itself or for a line of a customer's order. */
const props = defineProps<{
  begin?: {
    itemId: number
    code: string
    quantity: string
    unit: string
    neededOn: string
    salesLineId: number
    order: string
  }
}>()
const emit = defineEmits<{ done: []; close: [] }>()
const session = useSession()
const notices = useNotices()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const form = reactive({
  itemId: props.begin?.itemId ?? (null as number | null),
  quantity: props.begin?.quantity ?? '',
  unit: props.begin?.unit ?? '',
  neededOn: props.begin?.neededOn ?? session.today,
  note: '',
  isDirect: false,
})
const measured = ref<Awaited<ReturnType<typeof fetchMeasured>> | null>(null)
watch(
  () => form.itemId,
  async (itemId) => {
    measured.value = itemId === null ? null : await fetchMeasured(itemId)
    if (measured.value && !props.begin) {
      form.unit = measured.value.stockUnit
    }
  },
  { immediate: true },
)
async function save(): Promise<void> {
  const done = await run((key) =>
    $fetch<object>('/api/purchasing/buying/wants', {
      method: 'POST',
      body: { ...form, key, siteId: null, salesLineId: props.begin?.salesLineId ?? null },
    }),
  )
  if (done) {
    notices.say({ kind: 'done', text: `${props.begin?.code ?? 'It'} is on the buying list.` })
    emit('done')
  }
}
</script>

<template>
  <UiDialog
    v-model="open"
    :title="begin ? `Buy for ${begin.order}` : 'What is to be bought?'"
    act="Put it on the buying list"
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <div class="grid gap-3">
      <UiItemField v-if="!begin" v-model="form.itemId" label="Item" :error="fields.itemId" />
      <UiQuantityField
        v-if="measured"
        v-model="form.quantity"
        v-model:unit="form.unit"
        label="Quantity"
        :item="measured"
        :error="fields.quantity ?? fields.salesLineId"
      />
      <UiDateField v-model="form.neededOn" label="Needed by" :error="fields.neededOn" />
      <UiTextField v-model="form.note" label="What for" :error="fields.note" />
      <UiCheckField v-if="begin" v-model="form.isDirect" label="The supplier delivers it to the customer directly" />
      <p v-if="begin" class="text-soft">
        {{
          form.isDirect
            ? `It goes on an order of its own, with the customer’s address; ${begin.order} counts as shipped once you confirm the delivery.`
            : `What arrives of it is allocated to ${begin.order}.`
        }}
      </p>
    </div>
  </UiDialog>
</template>
