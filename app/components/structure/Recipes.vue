<script setup lang="ts">
import type { MeasuredItem } from '~/composables/ui/use-measure'
import type { Recipes } from '~~/shared/structure/answers'

const props = defineProps<{ item: MeasuredItem & { code: string }; mayEdit: boolean }>()
const references = useReferences()
const { data, refresh } = await useFetch<Recipes>(() => `/api/structure/${props.item.id}/recipes`)
const adding = ref(false)
const next = computed(() => Math.max(0, ...(data.value?.gives ?? []).map((recipe) => recipe.rank)) + 1)
</script>

<template>
  <div v-if="data" class="grid gap-4">
    <UiSheet v-if="data.comesFrom.length" title="Comes from">
      <ul>
        <li v-for="recipe in data.comesFrom" :key="recipe.id" class="flex items-baseline gap-3 py-1">
          <UiItemChip :id="recipe.itemId" :code="recipe.code" :name="recipe.name" /><span class="text-soft"
            ><UiQty :of="recipe.take" :unit="references.symbol(recipe.unit)" /> gives
            <UiQty :of="recipe.gives" :unit="references.symbol(recipe.givesUnit)" /><template v-if="recipe.onArrival">
              · on arrival</template
            ></span
          >
        </li>
      </ul>
    </UiSheet>
    <StructureRecipe
      v-for="recipe in data.gives"
      :key="`${recipe.id} ${recipe.version}`"
      :item="item"
      :recipe="recipe"
      :named="data.items"
      :may-edit="mayEdit"
      @gone="refresh()"
    />
    <StructureRecipe
      v-if="adding"
      :item="item"
      :recipe="null"
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
      ><UiEmptyState
        :title="`${item.code} is not broken down`"
        summary="Where it is bought in bulk and used in small, say what one of it gives."
    /></UiSheet>
    <div v-if="mayEdit && !adding">
      <UiButton @click="adding = true">{{
        data.gives.length ? 'Another way to break it down' : 'Say how it breaks down'
      }}</UiButton>
    </div>
  </div>
</template>
