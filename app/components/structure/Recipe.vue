<script setup lang="ts">
import type { ItemName } from '~~/shared/catalogue/answers'
import { asForm } from '~/composables/ui/as-form'
import type { MeasuredItem } from '~/composables/ui/use-measure'
import { balanceOfRecipe, blankRecipe, recipeOf, type RecipeForm } from '~/composables/structure/use-recipe-form'
import type { Stored } from '~~/shared/catalogue/definitions'

const props = defineProps<{
  item: MeasuredItem & { code: string }
  recipe: Stored<'break-downs'> | null
  rank?: number
  named: readonly ItemName[]
  mayEdit: boolean
}>()
const emit = defineEmits<{ made: []; gone: [] }>()
const references = useReferences()
const session = useSession()
const notices = useNotices()
const form = ref<RecipeForm>(
  props.recipe
    ? { ...(asForm(props.recipe) as unknown as RecipeForm), lossUnit: props.recipe.lossUnit ?? props.recipe.unit }
    : blankRecipe(props.item, props.rank ?? 1),
)
const version = ref(props.recipe?.version ?? 0)
const names = ref(new Map(props.named.map((entry) => [entry.id, entry])))
const measured = ref(new Map<number, MeasuredItem>())
watch(
  () => form.value.outputs.map((output) => output.itemId),
  async (ids) => {
    for (const id of ids) {
      if (id !== null && !measured.value.has(id)) {
        measured.value.set(id, await fetchMeasured(id))
      }
    }
  },
  { immediate: true },
)
const { measure } = useMeasure(() => props.item)
const sign = computed(() => session.company?.decimalSign ?? ('.' as const))
/** What is sent; a typed quantity can be read only with its item's units: who types quickly is ahead of them. */
async function sent() {
  for (const { itemId } of form.value.outputs) {
    if (itemId !== null && !measured.value.has(itemId)) {
      measured.value.set(itemId, await fetchMeasured(itemId))
    }
  }
  return recipeOf(
    form.value,
    measure.value,
    (id) => {
      const item = measured.value.get(id)
      return item ? measureOfItem(references.units, item) : null
    },
    sign.value,
  )
}
const saving = useSaving(
  form,
  async () => {
    const stored = await $fetch<{ version: number }>(`/api/catalogue/definitions/break-downs/${props.recipe!.id}`, {
      method: 'PUT',
      body: { version: version.value, definition: await sent() },
    })
    version.value = stored.version
  },
  () => props.mayEdit && props.recipe !== null,
)
const making = useAct()
const fields = computed(() => (props.recipe ? saving.fields.value : making.fields.value))
const detail = computed(() => {
  if (Object.keys(fields.value).length) {
    return ''
  }
  if (props.recipe) {
    return saving.detail.value
  }
  return making.detail.value
})
async function make(): Promise<void> {
  const made = await making.run(async () =>
    $fetch('/api/catalogue/definitions/break-downs', { method: 'POST', body: await sent() }),
  )
  if (made) {
    notices.say({ kind: 'done', text: `${props.item.code} breaks down in a way more.` })
    emit('made')
  }
}
async function away(): Promise<void> {
  if (
    props.recipe &&
    !(await making.run(async () => {
      await $fetch(`/api/catalogue/definitions/break-downs/${props.recipe!.id}`, { method: 'DELETE' })
      return true
    }))
  ) {
    notices.say({ kind: 'problem', text: making.detail.value })
    return
  }
  emit('gone')
}
async function chosen(row: RecipeForm['outputs'][number], item: ItemName): Promise<void> {
  names.value.set(item.id, item)
  measured.value.set(item.id, await fetchMeasured(item.id))
  row.unit = measured.value.get(item.id)!.stockUnit
}
const balance = computed(() =>
  balanceOfRecipe(
    form.value,
    measure.value,
    (id) => {
      const item = measured.value.get(id)
      return item ? measureOfItem(references.units, item) : null
    },
    sign.value,
    references.symbol,
  ),
)
</script>

<template>
  <form
    data-saves
    :aria-label="`Way ${form.rank} to break it down`"
    @submit.prevent="recipe ? saving.commit() : make()"
  >
    <UiSheet :title="recipe && Number(form.rank) > 1 ? `Another way, rank ${form.rank}` : 'How it breaks down'">
      <template #head
        ><UiSaveState
          v-if="recipe && mayEdit"
          :state="saving.state.value"
          :detail="saving.detail.value"
          @back="saving.back()"
        /><UiButton v-if="mayEdit" small @click="away">{{
          recipe ? 'Take this way out' : 'Cancel'
        }}</UiButton></template
      >
      <div class="mb-3 grid grid-cols-1 md:grid-cols-[14rem_14rem_1fr] gap-3">
        <UiQuantityField
          v-model="form.take"
          v-model:unit="form.unit"
          label="Take"
          :item="item"
          exact
          :error="fields.take ?? fields.unit"
        />
        <UiQuantityField
          v-model="form.loss"
          v-model:unit="form.lossUnit"
          label="of which is lost"
          :item="item"
          exact
          :error="fields.loss ?? fields.lossUnit"
        />
        <UiCheckField v-model="form.lossWrittenOff" label="Write the loss off" :disabled="!mayEdit" />
        <UiCheckField v-model="form.onArrival" label="Break down on arrival" :disabled="!mayEdit" />
      </div>
      <div
        v-for="(output, index) in form.outputs"
        :key="index"
        class="mb-2 grid grid-cols-1 md:grid-cols-[1fr_14rem_7rem_auto] items-start gap-2"
      >
        <UiItemField
          v-model="output.itemId"
          :shown="output.itemId === null ? null : (names.get(output.itemId) ?? null)"
          source="broken down"
          label="Gives"
          :hide-label="index > 0"
          :error="fields[`outputs.${index}.itemId`]"
          @chosen="chosen(output, $event)"
        />
        <UiQuantityField
          v-model="output.quantity"
          v-model:unit="output.unit"
          :label="`Quantity ${index + 1}`"
          :hide-label="index > 0"
          :item="output.itemId === null ? null : (measured.get(output.itemId) ?? null)"
          exact
          :error="fields[`outputs.${index}.quantity`] ?? fields[`outputs.${index}.unit`]"
        />
        <UiTextField
          v-model="output.share"
          label="Share of cost"
          right
          :hide-label="index > 0"
          :error="fields[`outputs.${index}.share`]"
        />
        <UiButton
          v-if="mayEdit"
          :class="index === 0 && 'beside-field'"
          :aria-label="`Remove output ${index + 1}`"
          @click="form.outputs.splice(index, 1)"
          >×</UiButton
        >
      </div>
      <p v-if="balance" class="mb-2" :class="balance.isEven ? 'text-willow' : 'text-brick'" role="status">
        {{ balance.summary }}
      </p>
      <p v-else-if="form.outputs.some((output) => output.itemId !== null)" class="mb-2 text-fine text-soft">
        Whether it balances cannot be told: mass, volume, area or length of one of them is not known.
      </p>
      <UiProblem :text="fields.outputs ?? fields.rank ?? detail" class="mb-3" />
      <UiTextField v-model="form.note" label="Note" class="mb-3" :error="fields.note" />
      <div v-if="mayEdit" class="flex gap-2">
        <UiButton small @click="form.outputs.push({ itemId: null, quantity: '', unit: 'piece', share: '1' })"
          >Add an output</UiButton
        ><UiButton v-if="!recipe" primary small type="submit" :busy="making.busy.value">Add this way</UiButton>
      </div>
    </UiSheet>
  </form>
</template>
