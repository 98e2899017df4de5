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
const ENTRY = 'block w-full px-3 py-1.5 text-left hover:bg-wash'
</script>

<template>
  <Menu v-if="session.person" as="div" class="relative">
    <MenuButton class="rounded-block border border-line bg-sheet px-2.5 py-1 hover:bg-wash"
      >{{ session.person.name.split(' ')[0] }} <span class="text-soft">{{ session.person.role }}</span></MenuButton
    >
    <MenuItems class="absolute right-0 z-30 mt-1 w-56 rounded-block border border-line bg-sheet py-1 shadow-lg">
      <MenuItem><NuxtLink to="/guide" :class="ENTRY">Guide</NuxtLink></MenuItem>
      <MenuItem><NuxtLink to="/company/mail" :class="ENTRY">Mailbox</NuxtLink></MenuItem>
      <MenuItem v-if="session.allows('people')"
        ><NuxtLink to="/company" :class="ENTRY">People and import</NuxtLink></MenuItem
      >
      <MenuItem v-if="session.allows('people')"
        ><NuxtLink to="/company/settings" :class="ENTRY">Company settings</NuxtLink></MenuItem
      >
      <MenuItem v-if="session.allows('people')"><NuxtLink to="/company/kit" :class="ENTRY">The kit</NuxtLink></MenuItem>
      <MenuItem
        ><button type="button" :class="ENTRY" @click="theme = theme === 'day' ? 'lamp' : 'day'">
          {{ theme === 'day' ? 'Light the lamp (dark)' : 'Daylight' }}
        </button></MenuItem
      >
      <MenuItem><button type="button" :class="ENTRY" @click="leave">Sign out</button></MenuItem>
    </MenuItems>
  </Menu>
</template>
