<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import { useLocalStorage } from '@vueuse/core'

const session = useSession()
const theme = useLocalStorage<'day' | 'lamp'>('tsumiki-theme', 'day')
watchEffect(() => {
  document.documentElement.dataset.theme = theme.value
})
async function leave(): Promise<void> {
  await $fetch('/api/company/sign-out', { method: 'POST' })
  location.assign('/sign-in')
}
const acts = computed(() => [
  {
    name: theme.value === 'day' ? 'Light the lamp (dark)' : 'Daylight',
    act: () => {
      theme.value = theme.value === 'day' ? 'lamp' : 'day'
    },
  },
  { name: 'Sign out', act: () => void leave() },
])
</script>

<template>
  <Menu v-if="session.person" as="div" class="relative">
    <MenuButton class="rounded-block border border-line bg-sheet px-2.5 py-1 hover:bg-wash pointer-coarse:min-h-[44px]"
      >{{ session.person.name.split(' ')[0] }} <span class="text-soft">{{ session.person.role }}</span></MenuButton
    >
    <MenuItems class="absolute right-0 z-30 mt-1 w-56 rounded-block border border-line bg-sheet py-1 shadow-lg">
      <UiMenuLink to="/guide">Guide</UiMenuLink>
      <UiMenuLink to="/company/mail">Mailbox</UiMenuLink>
      <UiMenuLink to="/company/me">Your sign-in</UiMenuLink>
      <UiMenuLink v-if="session.allows('people')" to="/company">People and import</UiMenuLink>
      <UiMenuLink v-if="session.allows('people')" to="/running">Running</UiMenuLink>
      <UiMenuLink v-if="session.allows('people')" to="/company/audit">Audit list</UiMenuLink>
      <UiMenuLink v-if="session.allows('people')" to="/company/settings">Company settings</UiMenuLink>
      <UiMenuLink v-if="session.allows('people')" to="/company/kit">The kit</UiMenuLink>
      <MenuItem v-for="entry in acts" :key="entry.name" v-slot="{ active }"
        ><button
          type="button"
          class="floating-option w-full text-left pointer-coarse:min-h-[44px]"
          :class="active && 'bg-wash'"
          @click="entry.act"
        >
          {{ entry.name }}
        </button></MenuItem
      >
    </MenuItems>
  </Menu>
</template>
