<script setup lang="ts">
const props = defineProps<{ itemId: number; code: string; from: string; to: string }>()
const emit = defineEmits<{ done: []; close: [] }>()
const references = useReferences()
const open = computed({ get: () => true, set: () => emit('close') })
const per = ref('')
const turned = ref(false)
const { busy, detail, fields, run } = useAct()
const [smaller, larger] = [
  computed(() => (turned.value ? props.from : props.to)),
  computed(() => (turned.value ? props.to : props.from)),
]
async function save(): Promise<void> {
  const done = await run(async () => {
    const item = await $fetch(`/api/catalogue/items/${props.itemId}`)
    const { id, version, groupSays, ...definition } = item as typeof item & { groupSays?: unknown }
    void [id, groupSays]
    return $fetch(`/api/catalogue/items/${props.itemId}`, {
      method: 'PUT',
      body: {
        version,
        definition: {
          ...definition,
          relations: [...item.relations, { unit: smaller.value, per: per.value, ofUnit: larger.value }],
        },
      },
    })
  })
  if (!done) {
    return
  }
  forgetMeasured(props.itemId)
  emit('done')
}
const problem = computed(() => Object.values(fields.value)[0] ?? detail.value)
</script>

<template>
  <UiDialog
    v-model="open"
    :title="`How ${references.unitName(from)} and ${references.unitName(to)} of ${code} relate`"
    act="Add the bridge"
    :busy="busy"
    :problem="problem"
    :disabled="per.trim() === ''"
    @act="save"
  >
    <div class="flex items-end gap-2">
      <span class="pb-2 whitespace-nowrap">1 {{ references.unitName(smaller) }} of {{ code }} is</span>
      <div class="w-32"><UiTextField v-model="per" label="So much" right hide-label /></div>
      <span class="pb-2">{{ references.symbol(larger) }}</span>
      <UiButton small class="mb-1" @click="turned = !turned">Say it the other way round</UiButton>
    </div>
    <p class="mt-3 text-fine text-soft">
      It holds for this item everywhere: in its bills, when it is bought, and when it is counted.
    </p>
  </UiDialog>
</template>
