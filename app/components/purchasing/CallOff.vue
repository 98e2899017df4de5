<script setup lang="ts">
import { ratio } from '~~/core/units/exact'
import type { Blanket } from '~~/shared/purchasing/blankets'
import type { MeasuredItem } from '~/composables/ui/use-measure'

/** So much of a blanket order becomes an order, at its prices. */
const props = defineProps<{ blanket: Blanket }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const references = useReferences()
const notices = useNotices()
const { amount } = usePrint()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const form = reactive({
  dueOn: [session.today, props.blanket.fromOn].sort().at(-1)!,
  siteId: null as number | null,
})
const sites = computed(() => references.sites.filter((site) => !site.retired))
const lines = reactive(
  props.blanket.lines
    .filter((line) => !ratio(line.rest).equals(0))
    .map((line) => ({ line, measured: null as MeasuredItem | null, quantity: '', unit: line.unit })),
)
onMounted(() => {
  for (const entry of lines) {
    void fetchMeasured(entry.line.itemId).then((item) => {
      entry.measured = item
    })
  }
})
const given = computed(() => lines.filter((entry) => entry.quantity.trim() !== ''))
const wrongOf = (entry: (typeof lines)[number]): string | undefined => {
  const index = given.value.indexOf(entry)
  return index < 0 ? undefined : fields.value[`lines.${index}.quantity`]
}
async function call(): Promise<void> {
  const made = await run((key) =>
    $fetch<{ id: number; number: string }>(`/api/purchasing/blankets/${props.blanket.id}/call-off`, {
      method: 'POST',
      body: {
        key,
        version: props.blanket.version,
        ...form,
        lines: given.value.map(({ line, quantity, unit }) => ({ lineId: line.id, quantity, unit })),
      },
    }),
  )
  if (made) {
    notices.say({ kind: 'done', text: `${made.number} is ready to be sent.` })
    await navigateTo(`/purchasing/${made.id}`)
  }
}
</script>

<template>
  <UiDialog
    v-model="open"
    :title="`Call off from ${blanket.number}`"
    act="Write the order"
    wide
    records
    :busy="busy"
    :disabled="given.length === 0"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="call"
  >
    <div class="mb-4 grid items-start gap-3 sm:grid-cols-[12rem_14rem]">
      <UiDateField v-model="form.dueOn" label="Due date" :error="fields.dueOn" />
      <UiChoice
        v-if="sites.length > 1"
        v-model="form.siteId"
        label="Deliver to"
        :empty="sites[0]!.name"
        :error="fields.siteId"
        :options="sites.slice(1).map((site) => ({ value: site.id, name: site.name }))"
      />
    </div>
    <div
      v-for="entry in lines"
      :key="entry.line.id"
      class="grid grid-cols-1 items-start gap-3 border-t border-line py-3 sm:grid-cols-[1fr_13rem]"
    >
      <div>
        <UiItemChip :id="entry.line.itemId" :code="entry.line.code" :name="entry.line.name" />
        <span class="block text-fine text-soft"
          >{{ amount(entry.line.rest, 4) }} {{ entry.line.symbol }} of {{ amount(entry.line.quantity, 4) }}
          {{ entry.line.symbol }} are left</span
        >
      </div>
      <UiQuantityField
        v-model="entry.quantity"
        v-model:unit="entry.unit"
        :label="`Call off of ${entry.line.code}`"
        hide-label
        :item="entry.measured"
        :error="wrongOf(entry)"
      />
    </div>
  </UiDialog>
</template>
