<script setup lang="ts">
import type { MeasuredItem } from '~/composables/use-measure'
import type { Ways } from '~~/shared/structure-answers'

const props = defineProps<{ item: MeasuredItem & { code: string }; mayEdit: boolean }>()
const references = useReferences()
const { data, refresh } = await useFetch<Ways>(() => `/api/structure/${props.item.id}/ways`)
const adding = ref(false)
const next = computed(() => Math.max(0, ...(data.value?.gives ?? []).map((way) => way.rank)) + 1)
</script>

<template>
  <div v-if="data" class="grid gap-4">
    <UiSheet v-if="data.comesFrom.length" title="Comes from">
      <ul>
        <li v-for="way in data.comesFrom" :key="way.id" class="flex items-baseline gap-3 py-1">
          <UiItemChip :id="way.itemId" :code="way.code" :name="way.name" /><span class="text-soft"
            ><UiQty :of="way.take" :unit="references.symbol(way.unit)" /> gives
            <UiQty :of="way.gives" :unit="references.symbol(way.givesUnit)" /><template v-if="way.onArrival">
              · on arrival</template
            ></span
          >
        </li>
      </ul>
    </UiSheet>
    <StructureWay
      v-for="way in data.gives"
      :key="`${way.id} ${way.version}`"
      :item="item"
      :way="way"
      :named="data.items"
      :may-edit="mayEdit"
      @gone="refresh()"
    />
    <StructureWay
      v-if="adding"
      :item="item"
      :way="null"
      :rank="next"
      :named="[]"
      :may-edit="mayEdit"
      @made="
        () => {
          adding = false
          refresh()
        }
      "
      @gone="adding = false"
    />
    <UiSheet v-if="data.gives.length === 0 && !adding && data.comesFrom.length === 0"
      ><UiEmpty
        :title="`${item.code} is not broken down`"
        says="Where it is bought in bulk and used in small, say what one of it gives."
    /></UiSheet>
    <div v-if="mayEdit && !adding">
      <UiButton @click="adding = true">{{
        data.gives.length ? 'Another way to break it down' : 'Say how it breaks down'
      }}</UiButton>
    </div>
  </div>
</template>
