<script setup lang="ts">
import { MenuItem } from '@headlessui/vue'

/**
 * An entry of a menu that leads somewhere: a link, which opens in a new tab as any other does. A link that the router
 * follows holds its event back, and the menu would stay open: so it closes first.
 */
defineOptions({ inheritAttrs: false })
defineProps<{ to: string }>()
function follow(event: MouseEvent, close: () => void, navigate: (event?: MouseEvent) => unknown): void {
  close()
  void navigate(event)
}
</script>

<template>
  <NuxtLink v-slot="{ href, navigate }" :to="to" custom>
    <MenuItem v-slot="{ active, close }">
      <a
        v-bind="$attrs"
        :href="href ?? undefined"
        class="floating-option pointer-coarse:min-h-[44px]"
        :class="active && 'bg-wash'"
        @click="follow($event, close, navigate)"
        ><slot
      /></a>
    </MenuItem>
  </NuxtLink>
</template>
