<script setup lang="ts">
import { Pin, X } from '@lucide/vue'

const props = defineProps<{ id: number; pinned: boolean }>()
const sheets = useSheets()
const { day, amount, isPast } = usePrint()
const { data, error } = await useFetch(() => `/api/catalogue/items/${props.id}/sheet`, { key: `sheet-${props.id}` })
const page = computed(() => `/catalogue/${props.id}`)
</script>

<template>
  <article
    class="unprinted flex w-full shrink-0 flex-col border-l border-line bg-sheet max-md:fixed max-md:inset-0 max-md:z-30 md:w-[25rem]"
    :aria-label="data ? `Item ${data.code}` : 'Item'"
  >
    <header class="flex items-start justify-between gap-2 border-b border-line px-4 py-3">
      <div v-if="data" class="min-w-0">
        <h2 class="font-semibold">
          <NuxtLink :to="page" class="hover:underline">{{ data.code }}</NuxtLink>{{ ' ' }}
          <UiTag v-if="data.status !== 'active'" tone="problem">{{ data.status }}</UiTag>
        </h2>
        <p class="truncate text-soft">{{ data.name }}</p>
        <p class="text-fine text-soft">
          {{ data.source }}<template v-if="data.supplier"> from {{ data.supplier }}</template> · {{ data.group
          }}<template v-if="data.tracking === 'lot'"> · by lot</template>
        </p>
      </div>
      <UiProblem v-else-if="error" :text="problemOf(error).detail" />
      <div class="flex gap-1">
        <button
          type="button"
          :aria-label="pinned ? 'Unpin' : 'Pin beside the next'"
          :aria-pressed="pinned"
          class="rounded-block p-1 hover:bg-wash"
          :class="pinned && 'bg-wash'"
          @click="sheets.pin(id)"
        >
          <Pin class="size-4" />
        </button>
        <button
          type="button"
          aria-label="Close sheet"
          class="rounded-block p-1 hover:bg-wash"
          @click="sheets.close(id)"
        >
          <X class="size-4" />
        </button>
      </div>
    </header>
    <div v-if="data" class="grid gap-5 overflow-y-auto px-4 py-4">
      <img
        v-if="data.pictureId"
        :src="`/api/catalogue/pictures/${data.pictureId}`"
        alt=""
        class="max-h-40 justify-self-start rounded-block border border-line"
      />
      <GoodsStack
        :on-hand="data.onHand"
        :allocated="data.allocated"
        :coming="data.coming"
        :making="data.making"
        :held="data.held"
        :wanted="data.wanted"
        :safety="data.safetyStock"
        :symbol="data.symbol"
        :decimals="data.decimals"
      />
      <section>
        <h3 class="mb-1 text-fine font-medium text-soft">Supply and demand</h3>
        <p v-if="data.timeline.length === 0" class="text-soft">Nothing is due in or out.</p>
        <UiLinesTable v-else class="w-full">
          <tbody>
            <tr v-for="(row, index) in data.timeline" :key="index" class="border-b border-line/60 last:border-0">
              <td class="py-1 pr-2 whitespace-nowrap" :class="isPast(row.day) && 'text-brick'">{{ day(row.day) }}</td>
              <td class="w-full max-w-0 truncate py-1">
                <NuxtLink :to="row.link" class="hover:underline">{{ row.label }}</NuxtLink>
              </td>
              <td class="py-1 pl-2 text-right whitespace-nowrap">
                {{ row.change.startsWith('-') ? '' : '+' }}{{ amount(row.change) }}
              </td>
              <td
                class="py-1 pl-3 text-right font-medium whitespace-nowrap"
                :class="row.balance.startsWith('-') && 'text-brick'"
              >
                {{ amount(row.balance) }}
              </td>
            </tr>
          </tbody>
        </UiLinesTable>
      </section>
      <section>
        <h3 class="mb-1 text-fine font-medium text-soft">Where it lies</h3>
        <p v-if="data.places.length === 0" class="text-soft">Nowhere.</p>
        <ul>
          <li
            v-for="(place, index) in data.places"
            :key="index"
            class="flex justify-between gap-3 border-b border-line/60 py-1 last:border-0"
          >
            <span
              >{{ place.bin }}<span v-if="place.lot" class="text-soft"> · lot {{ place.lot }}</span
              ><span v-if="place.expiresOn" :class="isPast(place.expiresOn) ? 'text-brick' : 'text-soft'">
                · until {{ day(place.expiresOn) }}</span
              ></span
            >
            <span class="whitespace-nowrap"
              ><UiQty :of="place.onHand" :unit="data.symbol" /><span v-if="place.allocated !== '0'" class="text-plum">
                ({{ amount(place.allocated) }} allocated)</span
              ></span
            >
          </li>
        </ul>
      </section>
      <section v-if="data.madeOf.length > 0">
        <h3 class="mb-1 text-fine font-medium text-soft">Made of, a batch</h3>
        <ul>
          <li v-for="part in data.madeOf" :key="part.itemId" class="flex justify-between gap-3 py-0.5">
            <UiItemChip :id="part.itemId" :code="part.code" :name="part.name" /><UiQty
              :of="part.quantity"
              :unit="part.unit"
            />
          </li>
        </ul>
      </section>
      <section v-if="data.whereUsed.length > 0">
        <h3 class="mb-1 text-fine font-medium text-soft">Where used, for one of each</h3>
        <ul>
          <li
            v-for="use in data.whereUsed"
            :key="use.itemId"
            class="flex justify-between gap-3 py-0.5"
            :style="{ paddingLeft: `${(use.level - 1) * 0.75}rem` }"
          >
            <UiItemChip :id="use.itemId" :code="use.code" :name="use.name" /><UiQty
              :of="use.quantity"
              :unit="use.symbol"
              :decimals="4"
            />
          </li>
        </ul>
      </section>
    </div>
  </article>
</template>
