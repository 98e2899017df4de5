<script setup lang="ts">
import { ChevronRight, GripVertical, MoreHorizontal, X } from '@lucide/vue'
import draggable from 'vuedraggable'
import type { BillForm, LineSays } from '~/composables/structure/use-bill-form'
import type { PartItem, PartStructure } from '~~/shared/structure/parts'

const props = defineProps<{
  items: ReadonlyMap<number, PartItem>
  structure: PartStructure | null
  summary: readonly (readonly LineSays[])[]
  fields: Record<string, string>
  disabled?: boolean
  isKit?: boolean
}>()
const form = defineModel<BillForm>({ required: true })
const emit = defineEmits<{
  want: [ids: number[]]
  bridge: [itemId: number, from: string, to: string]
  write: [itemId: number]
  several: []
  changed: []
}>()
const references = useReferences()
const box = useTemplateRef<HTMLElement>('box')
const part = (id: number | null): PartItem | null => (id === null ? null : (props.items.get(id) ?? null))
const isMade = (id: number | null): boolean => id !== null && props.structure !== null && props.structure.isMade(id)
/** What the server says of a line, where the page has not said it already. */
const faultsOf = (index: number): string[] =>
  (props.summary[index] ?? []).some((entry) => entry.kind === 'fault')
    ? []
    : Object.entries(props.fields)
        .filter(([field]) => field.startsWith(`lines.${index}.`) && !/\.(itemId|quantity)$/.test(field))
        .map(([, text]) => text)

const { lines, opened, detailed, keyOf, toggle, add, remove, chosen, settle, paste, onKey } = useBillLines({
  form,
  box,
  isMade,
  want: (ids) => emit('want', ids),
  changed: () => emit('changed'),
})
defineExpose({ add })
</script>

<template>
  <div ref="box" class="relative overflow-x-auto" tabindex="-1">
    <draggable
      v-model="lines"
      tag="table"
      class="w-full border-collapse"
      :item-key="keyOf"
      handle="[data-grip]"
      :disabled="disabled"
      :animation="120"
      aria-label="Components"
    >
      <template #header>
        <thead>
          <tr class="text-left text-fine text-soft">
            <th class="w-7"><span class="sr-only">Order</span></th>
            <th class="pb-1 font-medium">{{ isKit ? 'Holds' : 'Component' }}</th>
            <th class="w-44 pb-1 pl-1.5 font-medium">Quantity</th>
            <th class="pb-1 pl-1.5 font-medium" :class="disabled ? 'w-24' : 'w-32'">{{ disabled ? '' : 'Counted' }}</th>
            <th class="w-16 pb-1 pl-1.5 text-right font-medium">Scrap, %</th>
            <th class="w-14"><span class="sr-only">More</span></th>
          </tr>
        </thead>
      </template>
      <template #item="{ element: line, index: at }">
        <tbody data-line class="border-b border-line/50 align-top last:border-0" @keydown="onKey($event, line, at)">
          <tr>
            <td class="py-1">
              <button
                v-if="!disabled"
                type="button"
                data-grip
                tabindex="-1"
                :aria-label="`Move line ${at + 1}`"
                class="mt-1.5 grid size-[24px] cursor-grab place-items-center text-soft hover:text-ink"
              >
                <GripVertical class="size-4" /></button
              ><span v-else class="block pt-2 text-fine text-soft">{{ at + 1 }}</span>
            </td>
            <td class="py-1" @paste="paste($event, at)">
              <div class="flex items-start gap-1">
                <button
                  v-if="isMade(line.itemId)"
                  type="button"
                  :aria-expanded="opened.has(line)"
                  :aria-label="`What ${part(line.itemId)?.code} is made of`"
                  class="mt-1.5 grid size-[24px] shrink-0 place-items-center text-soft hover:text-ink"
                  @click="toggle(opened, line)"
                >
                  <ChevronRight class="size-4 transition-transform" :class="opened.has(line) && 'rotate-90'" />
                </button>
                <span v-else class="w-[24px] shrink-0" />
                <span v-if="disabled && part(line.itemId)" class="pt-1.5"
                  ><UiItemChip :id="line.itemId!" :code="part(line.itemId)!.code" :name="part(line.itemId)!.name"
                /></span>
                <UiItemField
                  v-else-if="!disabled"
                  v-model="line.itemId"
                  class="min-w-0 flex-1"
                  :shown="part(line.itemId)"
                  :label="`Component, line ${at + 1}`"
                  hide-label
                  :error="
                    line.word && line.itemId === null
                      ? `“${line.word}” was not found. Choose the item.`
                      : fields[`lines.${at}.itemId`]
                  "
                  @chosen="chosen(line, at, $event)"
                />
              </div>
            </td>
            <td class="py-1 pl-1.5" @focusout="settle(line)">
              <UiQty
                v-if="disabled"
                class="block pt-1.5"
                :of="line.quantity"
                :unit="references.symbol(line.unit)"
              /><UiQuantityField
                v-else
                v-model="line.quantity"
                v-model:unit="line.unit"
                :label="`Quantity, line ${at + 1}`"
                hide-label
                :item="part(line.itemId)"
                exact
                quiet
                :error="
                  (summary[at] ?? []).some((entry: LineSays) => entry.kind === 'fault')
                    ? ''
                    : fields[`lines.${at}.quantity`]
                "
              />
            </td>
            <td class="py-1 pl-1.5">
              <span v-if="disabled" class="block pt-1.5 text-soft">{{
                line.basis === 'per build' ? 'once a build' : ''
              }}</span><UiChoice
                v-else
                v-model="line.basis"
                :label="`Counted, line ${at + 1}`"
                hide-label
                :options="[
                  { value: 'per batch', name: 'per batch' },
                  { value: 'per build', name: 'per build' },
                ]"
              />
            </td>
            <td class="py-1 pl-1.5 text-right">
              <span v-if="disabled" class="block pt-1.5">{{
                line.scrapPercent === '0' ? '' : line.scrapPercent
              }}</span><UiTextField
                v-else
                v-model="line.scrapPercent"
                :label="`Scrap, line ${at + 1}`"
                right
                hide-label
                :error="fields[`lines.${at}.scrapPercent`]"
              />
            </td>
            <td class="py-1 text-right whitespace-nowrap">
              <button
                type="button"
                :aria-label="`More of line ${at + 1}`"
                :aria-expanded="detailed.has(line)"
                class="mt-1.5 inline-grid size-[24px] place-items-center rounded-block text-soft hover:bg-wash hover:text-ink"
                @click="toggle(detailed, line)"
              >
                <MoreHorizontal class="size-4" />
              </button>
              <button
                v-if="!disabled"
                type="button"
                :aria-label="`Remove line ${at + 1}`"
                class="mt-1.5 inline-grid size-[24px] place-items-center rounded-block text-soft hover:bg-wash hover:text-ink"
                @click="remove(at)"
              >
                <X class="size-4" />
              </button>
            </td>
          </tr>
          <tr
            v-if="
              line.phantom ||
              (line.offsetDays !== '0' && line.offsetDays !== '') ||
              line.note ||
              line.substitutes.length
            "
          >
            <td />
            <td colspan="5" class="pb-1 pl-5 text-fine text-soft">
              {{
                [
                  line.phantom ? 'phantom: built in when none is there' : '',
                  line.offsetDays !== '0' && line.offsetDays !== ''
                    ? `wanted ${line.offsetDays} ${line.offsetDays === '1' ? 'day' : 'days'} after the start`
                    : '',
                  line.substitutes.length
                    ? `or ${line.substitutes.map((substitute: { itemId: number | null }) => part(substitute.itemId)?.code ?? '…').join(', ')}`
                    : '',
                  line.note,
                ]
                  .filter(Boolean)
                  .join(' · ')
              }}
            </td>
          </tr>
          <tr
            v-for="(entry, i) in [
              ...(summary[at] ?? []),
              ...faultsOf(at).map((text) => ({ kind: 'fault' as const, text, bridge: undefined, write: undefined })),
            ]"
            :key="i"
          >
            <td />
            <td
              colspan="5"
              class="pb-1.5 pl-5 text-fine"
              :class="entry.kind === 'fault' ? 'text-brick' : 'text-soft'"
              :role="entry.kind === 'fault' ? 'alert' : undefined"
            >
              {{ entry.text }}
              <UiButton
                v-if="entry.bridge && !disabled"
                small
                @click="emit('bridge', line.itemId!, entry.bridge.from, entry.bridge.to)"
                >Add the bridge</UiButton
              ><UiButton v-if="entry.write" small @click="emit('write', entry.write)">Write it</UiButton>
            </td>
          </tr>
          <tr v-if="detailed.has(line)">
            <td />
            <td colspan="5" class="pb-3 pl-5">
              <StructureLineMore
                v-model="form.lines[at]!"
                :at="at"
                :items="items"
                :fields="fields"
                :disabled="disabled"
                @want="emit('want', $event)"
              />
            </td>
          </tr>
          <tr v-if="opened.has(line) && structure">
            <td />
            <td colspan="5" class="pb-2 pl-5"><StructureBelow :item-id="line.itemId!" :structure="structure" /></td>
          </tr>
        </tbody>
      </template>
    </draggable>
    <p v-if="lines.length === 0" class="py-2 text-soft">
      {{ isKit ? 'The kit is empty.' : 'No components yet.' }}
      {{
        disabled
          ? ''
          : 'Add one by a few letters of its code or name, or paste lines from a spreadsheet: item, quantity, unit.'
      }}
    </p>
    <p v-if="fields.lines" role="alert" class="my-1 text-fine text-brick">{{ fields.lines }}</p>
    <div v-if="!disabled" class="mt-2 flex flex-wrap items-center gap-2" @paste="paste($event, lines.length)">
      <UiButton small @click="add">Add a component</UiButton
      ><UiButton small @click="emit('several')">Add several</UiButton
      ><span class="text-fine text-soft"
        >Enter: next line · Alt ↑ ↓: move · Alt Enter: more · Ctrl Backspace: remove</span
      >
    </div>
  </div>
</template>
