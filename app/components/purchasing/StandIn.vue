<script setup lang="ts">
/** Where no supplier answers, a made-up one does: its documents are read in like those of a real one. */
const props = defineProps<{ order: { id: number; number: string; currency: string | null } }>()
const emit = defineEmits<{ close: [] }>()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const form = reactive({ lateDays: '0', percent: '100', dearer: '0', freight: '' })
const whole = (text: string): number | string => (/^\d+$/.test(text.trim()) ? Number(text) : text)
interface Made {
  readonly name: string
  readonly what: string
  readonly use: string
  readonly url: string
}
const made = ref<readonly Made[]>([])
const clear = (): void => {
  for (const { url } of made.value) {
    URL.revokeObjectURL(url)
  }
  made.value = []
}
onBeforeUnmount(clear)
async function answer(): Promise<void> {
  const documents = await run(() =>
    $fetch(`/api/purchasing/orders/${props.order.id}/stand-in`, {
      method: 'POST',
      body: {
        lateDays: whole(form.lateDays),
        percent: whole(form.percent),
        dearer: whole(form.dearer),
        freight: form.freight,
      },
    }),
  )
  if (!documents) {
    return
  }
  clear()
  const fileOf = (text: string): string => URL.createObjectURL(new Blob([text], { type: 'application/xml' }))
  const { number } = props.order
  made.value = [
    {
      name: `${number}-confirmation.xml`,
      what: 'What it confirms (UBL OrderResponse)',
      use: 'Confirm, Read their answer',
      url: fileOf(documents.response),
    },
    {
      name: `${number}-despatch.xml`,
      what: 'What is on its way (UBL DespatchAdvice)',
      use: 'Goods in from a file',
      url: fileOf(documents.despatch),
    },
    {
      name: `${number}-invoice.xml`,
      what: 'What it asks for (UBL Invoice)',
      use: 'Enter an invoice, Read it from a file',
      url: fileOf(documents.invoice),
    },
  ]
}
</script>

<template>
  <UiDialog
    v-model="open"
    :title="`A stand-in answers ${order.number}`"
    act="Make its documents"
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="answer"
  >
    <p class="mb-3 text-soft">
      To try the whole way without a supplier: a made-up one confirms, delivers and invoices as you tell it to. Its
      files are read in like those of a real one.
    </p>
    <div class="grid grid-cols-2 gap-3">
      <UiTextField v-model="form.lateDays" right label="Late by, days" :error="fields.lateDays" />
      <UiTextField v-model="form.percent" right label="Delivers, %" :error="fields.percent" />
      <UiTextField v-model="form.dearer" right label="Dearer by, %" :error="fields.dearer" />
      <UiMoneyField
        v-model="form.freight"
        label="Freight"
        :currency="order.currency ?? undefined"
        :error="fields.freight"
      />
    </div>
    <ul v-if="made.length" class="mt-4 border-t border-line pt-3" aria-label="Its documents">
      <li v-for="file in made" :key="file.name" class="py-1">
        <a :href="file.url" :download="file.name" class="underline">{{ file.what }}</a><span
          class="block text-fine text-soft"
          >for {{ file.use }}</span
        >
      </li>
    </ul>
  </UiDialog>
</template>
