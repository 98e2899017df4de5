<script setup lang="ts">
import { DEMAND_RULES } from '~~/shared/planning/words'
import type { PlanEdit } from '~~/shared/planning/requests'

const form = defineModel<Omit<PlanEdit, 'key' | 'version' | 'changes'>>({ required: true })
const props = defineProps<{ fields: Record<string, string> }>()
const references = useReferences()
const session = useSession()
const sites = computed(() => references.sites.filter((site) => !site.retired))
const { day } = usePrint()
const { data: forecasts } = await useFetch('/api/demand/forecasts')
const { data: alike } = await useFetch('/api/demand/forecasts/alike')
/** Forecasts that were both chosen and look alike: what one says is counted twice. */
const doubled = computed(() =>
  (alike.value ?? []).flatMap(({ one, other }) => {
    const names = [one, other].map((id) => forecasts.value?.find((forecast) => forecast.id === id)?.name)
    return [one, other].every((id) => form.value.forecastIds.includes(id))
      ? [`“${names[0]}” and “${names[1]}” look alike: both count, so the same is wanted twice.`]
      : []
  }),
)
const RULES: Readonly<Record<string, string>> = {
  larger: 'orders use up the forecast',
  both: 'orders and forecast added',
  'orders only': 'orders only',
  'forecast only': 'forecast only',
}
const product = ref<number | null>(form.value.scope.items === 'product' ? (form.value.scope.of[0] ?? null) : null)
watch(product, (id) => {
  if (id !== null) {
    form.value.scope.of = [id]
  }
})
function toggle(list: number[], id: number, isOn: boolean): number[] {
  return isOn ? [...list, id] : list.filter((entry) => entry !== id)
}
/** No site at all is told from all of them by a number that no site has; the server refuses it too. */
const NO_SITE = [0]
const counted = computed({
  get: () => {
    const { sites: chosen } = form.value.scope
    return chosen.length === 0 ? sites.value.map((site) => site.id) : chosen.filter((id) => !NO_SITE.includes(id))
  },
  set: (next: number[]) => {
    if (next.length === sites.value.length) {
      form.value.scope.sites = []
    } else {
      form.value.scope.sites = next.length === 0 ? NO_SITE : next
    }
  },
})
/** What is wrong at once, beside its field; the server says the same when it is sent. */
const wrong = computed<Record<string, string>>(() => ({
  ...(form.value.endsOn < session.today
    ? { endsOn: `The plan begins today, ${day(session.today)}. Choose a later end.` }
    : {}),
  ...(form.value.demandRule === 'forecast only' && form.value.forecastIds.length === 0
    ? { forecastIds: 'Nothing would be planned: choose a forecast, or let orders count.' }
    : {}),
  ...(form.value.scope.items !== 'all' && form.value.scope.of.length === 0
    ? { of: form.value.scope.items === 'groups' ? 'Choose at least one group.' : 'Choose the product.' }
    : {}),
  ...(counted.value.length === 0 ? { sites: 'Choose at least one site.' } : {}),
  ...props.fields,
}))
</script>

<template>
  <div class="grid grid-cols-1 sm:grid-cols-2 gap-x-4 gap-y-3">
    <UiTextField v-model="form.name" label="Name" :error="wrong.name" />
    <UiDateField v-model="form.endsOn" label="Plan to" :error="wrong.endsOn" />
    <UiChoice
      v-model="form.demandRule"
      label="Demand"
      :error="wrong.demandRule"
      :options="DEMAND_RULES.map((rule) => ({ value: rule, name: RULES[rule]! }))"
    />
    <UiChoice
      v-model="form.forecastFalls"
      label="Forecast placement"
      :options="[
        { value: 'first day', name: 'on its first day' },
        { value: 'spread', name: 'spread over its working days' },
      ]"
    />
    <fieldset class="text-fine">
      <legend class="mb-1 text-soft">Forecasts that count</legend>
      <p v-if="!forecasts?.length" class="text-soft">There is none yet. Make one under Demand.</p>
      <div v-else class="max-h-24 space-y-0.5 overflow-y-auto">
        <UiCheckField
          v-for="f in forecasts"
          :key="f.id"
          :model-value="form.forecastIds.includes(f.id)"
          :label="f.name"
          @update:model-value="
            (isOn) => {
              form.forecastIds = toggle(form.forecastIds, f.id, isOn)
            }
          "
        />
      </div>
      <p v-if="wrong.forecastIds" role="alert" class="text-brick">{{ wrong.forecastIds }}</p>
      <p v-for="sentence in doubled" :key="sentence" role="status" class="text-brick" data-test="alike">
        {{ sentence }}
      </p>
    </fieldset>
    <fieldset class="text-fine">
      <legend class="mb-1 text-soft">Scheduled receipts</legend>
      <UiCheckField v-model="form.scope.purchases" label="open purchase orders" /><UiCheckField
        v-model="form.scope.builds"
        label="builds and break-downs under way"
      /><UiCheckField v-model="form.scope.transfers" label="transfers on their way" />
    </fieldset>
    <fieldset class="text-fine">
      <legend class="mb-1 text-soft">Rules</legend>
      <UiCheckField v-model="form.scope.keepSafety" label="keeps safety stock" /><UiCheckField
        v-model="form.scope.pullIn"
        label="pulls open orders in before planning new ones"
      /><UiCheckField v-model="form.scope.makingHeedsCalendar" label="making heeds the calendar" /><UiCheckField
        v-model="form.scope.buyingHeedsCalendar"
        label="buying heeds the suppliers' calendars"
      />
    </fieldset>
    <fieldset class="text-fine">
      <legend class="mb-1 text-soft">Sites that count</legend>
      <UiCheckField
        v-for="site in sites"
        :key="site.id"
        :model-value="counted.includes(site.id)"
        :label="site.name"
        @update:model-value="
          (isOn) => {
            counted = toggle(counted, site.id, isOn)
          }
        "
      /><UiCheckField v-if="sites.length > 1" v-model="form.scope.sitesAsOne" class="mt-1" label="all as one stock" />
      <p v-if="wrong.sites" role="alert" class="text-brick">{{ wrong.sites }}</p>
      <p v-else-if="sites.length > 1 && !form.scope.sitesAsOne" class="text-soft">
        Sites that a route of 0 days joins both ways share their stock; the others get transfers along their routes.
      </p>
    </fieldset>
    <UiChoice
      v-model="form.scope.items"
      label="Shows and proposes"
      :options="[
        { value: 'all', name: 'every item' },
        { value: 'groups', name: 'some groups of items' },
        { value: 'product', name: 'a product and all that is in it' },
      ]"
      hint="Everything is reckoned with either way."
      @update:model-value="
        () => {
          form.scope.of = []
          product = null
        }
      "
    />
    <UiItemField
      v-if="form.scope.items === 'product'"
      v-model="product"
      label="Product"
      :error="wrong.of ?? wrong['scope.of']"
    />
    <fieldset v-else-if="form.scope.items === 'groups'" class="text-fine">
      <legend class="mb-1 text-soft">Groups</legend>
      <div class="max-h-24 overflow-y-auto">
        <UiCheckField
          v-for="group in references.groupChoices"
          :key="String(group.value)"
          :model-value="form.scope.of.includes(Number(group.value))"
          :label="group.name"
          @update:model-value="
            (isOn) => {
              form.scope.of = toggle(form.scope.of, Number(group.value), isOn)
            }
          "
        />
      </div>
      <p v-if="wrong.of" role="alert" class="text-brick">{{ wrong.of }}</p>
    </fieldset>
    <UiTextField
      :model-value="String(form.scope.longestLeadDays ?? '')"
      label="Longest lead time allowed, working days"
      right
      :error="wrong['scope.longestLeadDays']"
      hint="Empty: as long as the plan."
      @update:model-value="
        (text) => {
          form.scope.longestLeadDays = text === '' ? null : Number(text)
        }
      "
    />
    <UiTextField v-model="form.note" class="sm:col-span-2" label="Note" :lines="2" :error="wrong.note" />
  </div>
</template>
