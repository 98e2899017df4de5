<script setup lang="ts">
import type { ItemName } from '~~/shared/catalogue/answers'
const references = useReferences()
const notices = useNotices()
const { day } = usePrint()
const session = useSession()
const { busy, detail, fields, run } = useAct()
const KINDS = [
  { value: 'places', name: 'some bins' },
  { value: 'groups', name: 'some groups' },
  { value: 'items', name: 'some items' },
  { value: 'due', name: 'what is due' },
  { value: 'everything', name: 'everything' },
] as const
const form = reactive({
  name: `Count of ${day(session.today)}`,
  kind: 'places' as string,
  siteId: null as number | null,
  binIds: [] as number[],
  groupIds: [] as number[],
  itemIds: [] as number[],
  withNone: false,
  blind: true,
  recountOver: '',
})
const chosen = ref<ItemName[]>([])
const adding = ref<number | null>(null)
useHead({ title: 'Open a count · Tsumiki' })
function add(item: ItemName): void {
  if (!chosen.value.some((choice) => choice.id === item.id)) {
    chosen.value.push(item)
  }
  form.itemIds = chosen.value.map((choice) => choice.id)
}
const toggle = (list: number[], id: number): number[] =>
  list.includes(id) ? list.filter((entry) => entry !== id) : [...list, id]
const bins = computed(() => references.bins.filter((bin) => form.siteId === null || bin.siteId === form.siteId))
async function save(): Promise<void> {
  const made = await run((key) => $fetch('/api/stock/counts', { method: 'POST', body: { key, ...form } }))
  if (!made) {
    return
  }
  notices.say({ kind: 'done', text: `${made.number} is open, ${made.lines} lines.` })
  await navigateTo(`/stock/counts/${made.id}`)
}
</script>

<template>
  <form @submit.prevent="save">
    <UiHead title="Open a count" summary="Work goes on while you count: what moves meanwhile makes no difference."
      ><UiButton @click="navigateTo('/stock?tab=counts')">Cancel</UiButton
      ><UiButton primary type="submit" :busy="busy">Open the count</UiButton></UiHead
    >
    <UiProblem :text="Object.keys(fields).length ? '' : detail" class="mb-3" />
    <UiSheet>
      <div class="grid grid-cols-1 md:grid-cols-[18rem_12rem_12rem_12rem] gap-3">
        <UiTextField v-model="form.name" label="Name" :error="fields.name" />
        <UiChoice v-model="form.kind" label="Count" :options="KINDS" :error="fields.kind" />
        <UiChoice
          v-model="form.siteId"
          label="At"
          empty="all sites"
          :options="references.choices(references.sites)"
          :error="fields.siteId"
        />
        <UiTextField
          v-model="form.recountOver"
          label="Count again over"
          right
          hint="a difference worth more; empty: never"
          :error="fields.recountOver"
        />
      </div>
      <fieldset v-if="form.kind === 'places'" class="mt-4">
        <legend class="mb-1 text-fine font-medium text-soft">Bins</legend>
        <div class="grid grid-cols-2 md:grid-cols-4 gap-1.5">
          <label v-for="bin in bins" :key="bin.id" class="flex items-center gap-2"
            ><input
              type="checkbox"
              class="size-4 accent-[var(--maple)]"
              :checked="form.binIds.includes(bin.id)"
              @change="form.binIds = toggle(form.binIds, bin.id)"
            />{{ bin.name }}</label
          >
        </div>
        <p v-if="fields.binIds" role="alert" class="mt-1 text-fine text-brick">{{ fields.binIds }}</p>
      </fieldset>
      <fieldset v-else-if="form.kind === 'groups'" class="mt-4">
        <legend class="mb-1 text-fine font-medium text-soft">Groups, with those below them</legend>
        <div class="grid grid-cols-2 md:grid-cols-4 gap-1.5">
          <label v-for="group in references.groupChoices" :key="group.value" class="flex items-center gap-2"
            ><input
              type="checkbox"
              class="size-4 accent-[var(--maple)]"
              :checked="form.groupIds.includes(group.value)"
              @change="form.groupIds = toggle(form.groupIds, group.value)"
            />{{ group.name }}</label
          >
        </div>
        <p v-if="fields.groupIds" role="alert" class="mt-1 text-fine text-brick">{{ fields.groupIds }}</p>
      </fieldset>
      <div v-else-if="form.kind === 'items'" class="mt-4 grid max-w-xl gap-2">
        <UiItemField v-model="adding" label="Add an item" :error="fields.itemIds" @chosen="add" />
        <p class="flex flex-wrap gap-2">
          <span v-for="item in chosen" :key="item.id" class="inline-flex items-center gap-1"
            ><UiItemChip :id="item.id" :code="item.code" /><button
              type="button"
              class="text-soft hover:text-ink"
              :aria-label="`Leave ${item.code} out`"
              @click="
                () => {
                  chosen = chosen.filter((entry) => entry.id !== item.id)
                  form.itemIds = chosen.map((entry) => entry.id)
                }
              "
            >
              ×
            </button></span
          >
        </p>
      </div>
      <div class="mt-3 flex gap-6">
        <UiCheckField v-model="form.blind" label="Blind: counters do not see what the books say" /><UiCheckField
          v-model="form.withNone"
          label="Bins too where there is none by the books"
        />
      </div>
    </UiSheet>
  </form>
</template>
