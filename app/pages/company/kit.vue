<script setup lang="ts">
import type { DataColumn } from '~/composables/ui/data-column'
import type { GridColumn } from '~/composables/ui/use-grid-paste'

/** Every part of the kit with its states: what screens are built of, in one place to look at. */
useHead({ title: 'The kit · Tsumiki' })
const notices = useNotices()
const session = useSession()

const form = reactive({
  text: 'Bone folder',
  number: '12.5',
  money: '4.20',
  otherMoney: '1250',
  day: session.today,
  noDay: '',
  from: '',
  until: session.today,
  few: 'maple' as string | number | null,
  many: null as string | number | null,
  item: null as number | null,
  supplier: null as number | null,
  check: true,
})
const WOODS = ['maple', 'willow', 'slate', 'plum', 'stone', 'brick'].map((value) => ({ value, name: value }))
const MANY = Array.from({ length: 300 }, (_, index) => ({
  value: index + 1,
  name: `Shelf ${index + 1}`,
  code: `S${index + 1}`,
}))
const tab = ref('one')
const asked = ref(false)

interface Block {
  readonly id: number
  readonly wood: string
  readonly length: string
  readonly price: string
  readonly cutOn: string | null
}
/** Made-up rows, always the same. */
const BLOCKS: readonly Block[] = Array.from({ length: 240 }, (_, index) => ({
  id: index + 1,
  wood: WOODS[(index * 7) % WOODS.length]!.value,
  length: String(((index * 37) % 200) / 8),
  price: String(100 + ((index * 53) % 900)),
  cutOn: index % 5 === 0 ? null : `2026-${String((index % 9) + 1).padStart(2, '0')}-15`,
}))
const COLUMNS: readonly DataColumn[] = [
  { key: 'id', name: 'Block', kind: 'number', width: 80, isFixed: true },
  { key: 'wood', name: 'Wood', choices: WOODS },
  { key: 'length', name: 'Length, m', kind: 'number', hasTotal: true },
  { key: 'price', name: 'Price', kind: 'money', hasTotal: true },
  { key: 'cutOn', name: 'Cut on', kind: 'day' },
]
const GRID: readonly GridColumn[] = [
  { key: 'name', name: 'Name' },
  { key: 'amount', name: 'Amount', kind: 'number', width: '8rem' },
  { key: 'wood', name: 'Wood', kind: 'choice', options: WOODS, width: '10rem', empty: 'none' },
  { key: 'day', name: 'Day', kind: 'date', width: '10rem' },
]
const lines = ref<Record<string, unknown>[]>([{ name: 'First', amount: '1', wood: 'maple', day: session.today }])
const blank = (): Record<string, unknown> => ({ name: '', amount: '', wood: null, day: '' })
</script>

<template>
  <div>
    <UiHead title="The kit" summary="What every screen is built of, with its states." />
    <div class="grid items-start gap-4 lg:grid-cols-2">
      <UiSheet title="Buttons and menus">
        <div class="flex flex-wrap gap-2">
          <UiButton primary @click="notices.say({ kind: 'done', text: 'Built 24.' })">Build 24</UiButton>
          <UiButton @click="notices.say({ kind: 'problem', text: 'Only 20 are there.' })">Refuse</UiButton>
          <UiButton small>Small</UiButton><UiButton busy>Busy</UiButton><UiButton disabled>Disabled</UiButton>
          <UiMenu
            label="Menu"
            :acts="[
              { name: 'First', act: () => undefined },
              { name: 'Off', act: () => undefined, isOff: true },
            ]"
          />
          <UiButton @click="asked = true">Open a dialog</UiButton>
        </div>
        <UiDialog v-model="asked" title="Before and after" act="Build 24" @act="asked = false">
          <p><UiChange before="12" after="36" unit="pc" /></p>
        </UiDialog>
      </UiSheet>
      <UiSheet title="Tabs and tags">
        <UiTabs
          v-model="tab"
          :tabs="[
            { key: 'one', name: 'One', count: 3 },
            { key: 'two', name: 'Two' },
            { key: 'three', name: 'Three' },
          ]"
        />
        <p class="mb-3">Tab {{ tab }}</p>
        <div class="flex gap-2">
          <UiTag>plain</UiTag><UiTag tone="good">good</UiTag><UiTag tone="problem">late</UiTag>
        </div>
      </UiSheet>
      <UiSheet title="Fields">
        <div class="grid gap-3 sm:grid-cols-2">
          <UiTextField v-model="form.text" label="Text" hint="a hint below" />
          <UiTextField v-model="form.number" label="Number" right error="This number is refused." />
          <UiMoneyField v-model="form.money" label="Money" hint="of one" />
          <UiMoneyField v-model="form.otherMoney" label="Money in another currency" currency="CHF" />
          <UiDateField v-model="form.day" label="Day" />
          <UiDateField v-model="form.noDay" label="Empty day" placeholder="today" />
          <UiChoice v-model="form.few" label="One of a few" :options="WOODS" />
          <UiChoice v-model="form.many" label="One of many" :options="MANY" empty="none of them" />
          <UiItemField v-model="form.item" label="Item" />
          <UiPartnerField v-model="form.supplier" kind="supplier" label="Supplier" />
          <UiCheckField v-model="form.check" label="Checked" />
          <UiDateRange v-model:from="form.from" v-model:until="form.until" label="Some days" class="sm:col-span-2" />
          <UiTextField v-model="form.text" label="Disabled" disabled />
          <UiChoice v-model="form.few" label="Disabled choice" :options="WOODS" disabled />
        </div>
      </UiSheet>
      <UiSheet title="Messages and empty states">
        <UiProblem text="What was refused, and why." />
        <UiProgress class="my-3" label="How much is taken in" :value="42" told="42 %" can-stop />
        <UiEmptyState title="Nothing here yet" summary="How to begin stands here."
          ><UiButton>Begin</UiButton></UiEmptyState
        >
      </UiSheet>
      <UiSheet title="Grid" class="lg:col-span-2">
        <UiGrid
          v-model="lines"
          label="Lines"
          :columns="GRID"
          path="lines"
          :fields="{}"
          :blank="blank"
          add="Add a line"
        />
      </UiSheet>
      <UiSheet flush class="lg:col-span-2">
        <UiDataTable
          list="kit"
          label="Blocks"
          is-choosable
          :columns="COLUMNS"
          :rows="BLOCKS"
          :muted="(row) => row.cutOn === null"
        >
          <template #acts="{ chosen }"
            ><span class="text-soft">of {{ chosen.length }} something can be done</span></template
          >
          <template #empty><UiEmptyState title="No block fits" /></template>
        </UiDataTable>
      </UiSheet>
    </div>
  </div>
</template>
