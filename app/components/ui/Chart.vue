<script setup lang="ts">
import type { ApexOptions } from 'apexcharts'

const props = withDefaults(
  defineProps<{ label: string; series: NonNullable<ApexOptions['series']>; options: ApexOptions; height?: number }>(),
  { height: 230 },
)
const { digits } = usePrint()
const Drawing = defineAsyncComponent(async () => (await import('vue3-apexcharts')).default)
const theme = ref(0)
const options = computed<ApexOptions>(() => {
  void theme.value
  const coloured = (color: unknown): unknown =>
    typeof color === 'string' && /^[a-z]+$/.test(color) ? tokenOf(color) : color
  const { colors, chart, legend, tooltip, ...rest } = props.options
  return {
    chart: {
      fontFamily: 'Figtree Variable, sans-serif',
      foreColor: tokenOf('soft'),
      toolbar: { show: false },
      animations: { enabled: false },
      zoom: { enabled: false },
      background: 'transparent',
      ...chart,
    },
    grid: { borderColor: tokenOf('line'), padding: { left: 8, right: 8 } },
    legend: {
      position: 'top',
      horizontalAlign: 'left',
      fontSize: '12px',
      labels: { colors: tokenOf('ink') },
      ...legend,
    },
    dataLabels: { enabled: false },
    tooltip: {
      theme: document.documentElement.dataset.theme === 'lamp' ? 'dark' : 'light',
      y: { formatter: (value: unknown) => (typeof value === 'number' ? digits(String(roundFigure(value))) : '') },
      ...tooltip,
    },
    ...(colors && { colors: (colors as unknown[]).map(coloured) as string[] }),
    ...rest,
  }
})
onMounted(() => {
  const watcher = new MutationObserver(() => {
    theme.value++
  })
  watcher.observe(document.documentElement, { attributes: true, attributeFilter: ['data-theme'] })
  onUnmounted(() => watcher.disconnect())
})
</script>

<template>
  <div role="figure" :aria-label="label" class="min-w-0 overflow-hidden">
    <ClientOnly
      ><Drawing
        :key="theme"
        :type="props.options.chart?.type ?? 'line'"
        :height="height"
        :options="options"
        :series="series"
    /></ClientOnly>
  </div>
</template>
