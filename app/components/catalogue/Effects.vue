<script setup lang="ts">
/** Asks before other packs and bridges of an item change what is said of stock, open documents and bills. */
defineProps<{ code: string; effects: readonly string[]; busy: boolean }>()
const emit = defineEmits<{ confirm: []; leave: [] }>()
const open = computed({ get: () => true, set: () => emit('leave') })
</script>

<template>
  <UiConfirm
    v-model="open"
    :title="`Other packs and bridges of ${code}`"
    act="Change them"
    :busy="busy"
    wide
    @act="emit('confirm')"
  >
    <CatalogueEffectsList :effects="effects" />
    <p class="mt-3 text-soft">
      Stock and open documents keep their quantity in the stock unit. Bills keep what they say, and need as much as it
      is then.
    </p>
  </UiConfirm>
</template>
