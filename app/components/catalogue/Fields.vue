<script setup lang="ts">
import type { FormFieldOf } from '~/composables/catalogue/definition-form'
import { setAt, valueAt } from '~/composables/catalogue/definition-values'

const props = defineProps<{ shown: readonly FormFieldOf[]; fields: Record<string, string>; disabled?: boolean }>()
const form = defineModel<Record<string, unknown>>({ required: true })
const references = useReferences()
const WEEK = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']

const text = (key: string): string => String(valueAt(form.value, key) ?? '')
const choice = (key: string): string | number | null => {
  const value = valueAt(form.value, key)
  return value === undefined || value === '' ? null : (value as string | number | null)
}
/** What a group that states nothing takes over from the groups above. */
const above = (key: string): string => {
  const summary = references.groups.find((group) => group.id === form.value.parentId)?.summary as
    Record<string, unknown> | undefined
  const value = key.startsWith('defaults.') ? summary?.[key.slice(9)] : undefined
  return value === undefined || !['', undefined, null].includes(valueAt(form.value, key) as string)
    ? ''
    : `from above: ${key.endsWith('Unit') ? references.unitName(String(value)) : String(value)}`
}
const set = (key: string, value: unknown): void => setAt(form.value, key, value)
const choices = (field: FormFieldOf) =>
  (
    field.options?.(references, typeof choice(field.key) === 'number' ? (choice(field.key) as number) : null) ?? []
  ).filter((option) =>
    props.shown.some((f) => f.key === 'parentId') ? option.value !== form.value.id || field.key !== 'parentId' : true,
  )
function turn(index: number): void {
  form.value.weekdays = (form.value.weekdays as boolean[]).map((weekday, day) => (day === index ? !weekday : weekday))
}
/** On a phone each field has a line of its own. */
const SPANS: Readonly<Record<number, string>> = { 1: '', 2: 'sm:col-span-2', 3: 'sm:col-span-3', 4: 'sm:col-span-4' }
</script>

<template>
  <div class="grid grid-cols-1 gap-3 sm:grid-cols-4">
    <template v-for="field in shown" :key="field.key">
      <h3 v-if="field.head" class="mt-1 font-semibold sm:col-span-4">{{ field.head }}</h3>
      <div :class="SPANS[field.span ?? 1]">
        <UiChoice
          v-if="field.kind === 'choice'"
          :model-value="choice(field.key)"
          :label="field.label"
          :options="choices(field)"
          :empty="field.empty"
          :hint="above(field.key) || field.hint"
          :error="fields[field.key]"
          :disabled="disabled"
          @update:model-value="set(field.key, $event)"
        />
        <UiCheckField
          v-else-if="field.kind === 'check'"
          :model-value="valueAt(form, field.key) === true"
          :label="field.label"
          :error="fields[field.key]"
          :disabled="disabled"
          @update:model-value="set(field.key, $event)"
        />
        <fieldset v-else-if="field.kind === 'week'">
          <legend class="mb-1 text-fine font-medium text-soft">{{ field.label }}</legend>
          <div class="flex gap-1">
            <label
              v-for="(day, index) in WEEK"
              :key="day"
              class="flex h-9 cursor-pointer items-center gap-1.5 rounded-block border px-2.5"
              :class="
                (form.weekdays as boolean[])[index]
                  ? 'border-maple bg-maple-face text-[#2a2520]'
                  : 'border-line text-soft'
              "
              ><input
                type="checkbox"
                class="sr-only"
                :checked="(form.weekdays as boolean[])[index]"
                :disabled="disabled"
                @change="turn(index)"
              />{{ day }}</label
            >
          </div>
          <p v-if="fields.weekdays" role="alert" class="text-fine text-brick">{{ fields.weekdays }}</p>
        </fieldset>
        <UiTextField
          v-else
          :model-value="text(field.key)"
          :label="field.label"
          :lines="field.kind === 'long' ? 2 : undefined"
          :right="field.kind === 'number'"
          :hint="above(field.key) || field.hint"
          :error="fields[field.key]"
          :disabled="disabled"
          @update:model-value="set(field.key, $event)"
        />
      </div>
    </template>
  </div>
</template>
