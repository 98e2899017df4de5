<script setup lang="ts">
import { ratio } from '~~/core/units/exact'

const props = defineProps<{ original: string; remains: string }>()
const share = computed(() => `${Math.min(100, ratio(props.remains).div(ratio(props.original)).valueOf() * 100)}%`)
</script>

<template>
  <span class="flex h-3 w-full rounded-block bg-wash" aria-hidden="true"
    ><GoodsBlock v-if="remains !== '0'" state="on hand" class="h-full" :style="{ width: share }"
  /></span>
</template>
