<script setup lang="ts">
import type { ItemName } from '~~/shared/catalogue/answers'
import { ratio, toText } from '~~/core/units/exact'
import type { MeasuredItem } from '~/composables/ui/use-measure'

/** `begin`: what is known of the job already; then its number is told, and whoever opened this goes on. */
export interface JobToBegin {
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly quantity: string
  readonly dueOn: string
  readonly siteId: number | null
  readonly recipeId?: number
}
const props = defineProps<{ kind: 'build' | 'break-down'; begin?: JobToBegin }>()
const emit = defineEmits<{ close: []; done: [] }>()
const session = useSession()
const references = useReferences()
const notices = useNotices()
const { amount, asTyped } = usePrint()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const form = reactive({
  itemId: props.begin?.itemId ?? null,
  // How often a recipe is a plain number field; how much is built is read as it is typed.
  quantity: props.kind === 'build' ? asTyped(props.begin?.quantity ?? '') : (props.begin?.quantity ?? ''),
  unit: 'piece',
  dueOn: props.begin?.dueOn ?? session.today,
  siteId: props.begin?.siteId ?? references.sites.find((site) => !site.retired)?.id ?? null,
  recipeId: null as number | null,
  note: '',
})
onMounted(() => {
  if (props.begin) {
    void chosen(props.begin.itemId)
  }
})
const measured = ref<MeasuredItem | null>(null)
interface Recipe {
  id: number
  take: string
  unit: string
  loss: string
  lossUnit: string | null
  outputs: readonly { itemId: number; quantity: string; unit: string }[]
}
const recipes = ref<Recipe[]>([])
const items = ref<ItemName[]>([])
async function chosen(id: number): Promise<void> {
  measured.value = await fetchMeasured(id)
  form.unit = measured.value.stockUnit
  if (props.kind === 'build') {
    return
  }
  const found = await $fetch<{ gives: Recipe[]; items: ItemName[] }>(`/api/structure/${id}/recipes`)
  recipes.value = found.gives
  items.value = found.items
  form.recipeId = (found.gives.find((recipe) => recipe.id === props.begin?.recipeId) ?? found.gives[0])?.id ?? null
}
const recipe = computed(() => recipes.value.find((recipe) => recipe.id === form.recipeId))
const { typedNumber } = useTypedNumber()
/** What so many times give, before it is written down. */
const gives = computed(() => {
  const times = typedNumber(form.quantity)
  return recipe.value && times && times.compare(0) > 0
    ? recipe.value.outputs.map(
        (out) =>
          `${amount(toText(ratio(out.quantity).mul(times)), 4)} ${references.symbol(out.unit)} ${items.value.find((item) => item.id === out.itemId)?.code ?? ''}`,
      )
    : null
})
const describe = (recipe: Recipe): string =>
  `${amount(recipe.take, 4)} ${references.symbol(recipe.unit)} gives ${recipe.outputs.map((out) => `${amount(out.quantity, 4)} ${references.symbol(out.unit)} ${items.value.find((item) => item.id === out.itemId)?.code ?? ''}`).join(', ')}`
async function save(): Promise<void> {
  const { itemId, quantity, unit, dueOn, siteId, note, recipeId } = form
  const made =
    props.kind === 'build'
      ? await run((key) =>
          $fetch('/api/workshop/builds', {
            method: 'POST',
            body: { key, itemId, quantity, unit, dueOn, siteId, note },
          }),
        )
      : await run((key) =>
          $fetch('/api/workshop/break-downs', {
            method: 'POST',
            body: { key, itemId, times: quantity, dueOn, siteId, ...(recipeId !== null && { recipeId }) },
          }),
        )
  if (!made) {
    return
  }
  notices.say({ kind: 'done', text: `${made.number} is planned.` })
  void refreshToday()
  if (props.begin) {
    emit('done')
  } else {
    await navigateTo(`/workshop/${props.kind === 'build' ? 'builds' : 'break-downs'}/${made.id}`)
  }
}
</script>

<template>
  <UiDialog
    v-model="open"
    :title="kind === 'build' ? 'Plan a build or a packing' : 'Plan a break-down'"
    :act="kind === 'build' ? 'Plan the build' : 'Plan the break-down'"
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <div class="grid grid-cols-1 sm:grid-cols-2 gap-3">
      <UiItemField
        v-model="form.itemId"
        class="sm:col-span-2"
        label="Item"
        :shown="begin && { id: begin.itemId, code: begin.code, name: begin.name }"
        :error="fields.itemId"
        @chosen="chosen($event.id)"
      />
      <UiChoice
        v-if="recipes.length > 1"
        v-model="form.recipeId"
        class="sm:col-span-2"
        label="How it is broken down"
        :options="recipes.map((recipe) => ({ value: recipe.id, name: describe(recipe) }))"
        :error="fields.recipeId"
      />
      <UiQuantityField
        v-if="kind === 'build'"
        v-model="form.quantity"
        v-model:unit="form.unit"
        label="Quantity"
        :item="measured"
        :error="fields.quantity"
      />
      <UiTextField v-else v-model="form.quantity" label="Times the recipe is run" right :error="fields.times" />
      <UiDateField v-model="form.dueOn" label="Due on" :error="fields.dueOn" />
      <UiChoice
        v-if="references.sites.length > 1"
        v-model="form.siteId"
        label="At"
        :options="references.choices(references.sites)"
        :error="fields.siteId"
      />
      <UiTextField v-if="kind === 'build'" v-model="form.note" label="Note" :error="fields.note" />
    </div>
    <p v-if="recipe && kind === 'break-down'" class="mt-3 text-soft">
      <template v-if="gives"
        >It gives <b class="font-semibold text-ink">{{ gives.join(', ') }}</b>.</template
      ><template v-else>{{ describe(recipe) }}</template
      ><template v-if="recipe.loss !== '0'">
        {{ amount(recipe.loss, 4) }} {{ references.symbol(recipe.lossUnit ?? recipe.unit) }} are lost each
        time.</template
      >
    </p>
  </UiDialog>
</template>
