<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import { ChevronDown } from '@lucide/vue'

export interface MenuAct {
  readonly name: string
  readonly act: () => void
  readonly isOff?: boolean
}
/** A button that opens a short list of acts. */
defineProps<{ label: string; acts: readonly MenuAct[]; small?: boolean }>()
const anchor = useTemplateRef('anchor')
</script>

<template>
  <Menu v-slot="{ open }">
    <div ref="anchor">
      <MenuButton
        class="inline-flex items-center gap-1 rounded-block border border-line bg-sheet hover:bg-wash pointer-coarse:min-h-[44px]"
        :class="small ? 'h-7 px-2 text-fine' : 'h-9 px-3'"
        >{{ label }}<ChevronDown class="size-3.5 text-soft" aria-hidden="true"
      /></MenuButton>
      <UiFloating v-if="open" :anchor="anchor" placement="bottom-end">
        <MenuItems static class="min-w-40 py-1 outline-none">
          <MenuItem v-for="item in acts" :key="item.name" v-slot="{ active }" :disabled="item.isOff">
            <button
              type="button"
              class="floating-option w-full text-left disabled:opacity-50"
              :class="active && 'bg-wash'"
              :disabled="item.isOff"
              @click="item.act"
            >
              {{ item.name }}
            </button>
          </MenuItem>
        </MenuItems>
      </UiFloating>
    </div>
  </Menu>
</template>
