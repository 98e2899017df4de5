<script setup lang="ts">
import { ratio } from '~~/core/units/exact'

const props = defineProps<{ onHand: string; allocated: string; coming: string; wanted: string }>()
const parts = computed(() => {
  const [onHand, allocated, coming, wanted] = [props.onHand, props.allocated, props.coming, props.wanted].map((text) =>
    ratio(text).valueOf(),
  ) as [number, number, number, number]
  const missing = Math.max(0, wanted - onHand - coming)
  const total = onHand + coming + missing
  const share = (size: number): string => `${(size / total) * 100}%`
  return total === 0
    ? null
    : {
        allocated: share(allocated),
        free: share(Math.max(0, onHand - allocated)),
        coming: share(coming),
        missing: share(missing),
      }
})
</script>

<template>
  <span v-if="parts" class="flex h-4 w-full" aria-hidden="true">
    <GoodsBlock v-if="parts.allocated !== '0%'" state="allocated" :style="{ width: parts.allocated }" /><GoodsBlock
      v-if="parts.free !== '0%'"
      state="on hand"
      :style="{ width: parts.free }"
    />
    <GoodsBlock v-if="parts.coming !== '0%'" state="coming" :style="{ width: parts.coming }" /><GoodsBlock
      v-if="parts.missing !== '0%'"
      state="missing"
      :style="{ width: parts.missing }"
    />
  </span>
</template>
