<template>
  <div class="grid min-h-screen place-items-center p-6">
    <div class="w-full max-w-md">
      <div class="mb-6 flex items-center gap-3">
        <img src="/tsumiki.svg" alt="" class="size-10" /><span class="text-2xl font-semibold">Tsumiki</span>
      </div>
      <slot />
    </div>
  </div>
</template>
