<template>
  <span class="flex flex-wrap gap-x-4 text-fine text-soft">
    <span class="flex items-center gap-1.5"><GoodsBlock state="on hand" class="size-3 border" />will be there</span
    ><span class="flex items-center gap-1.5"><GoodsBlock state="missing" class="size-3 border" />shortage</span>
    <span class="flex items-center gap-1.5"
      ><GoodsBlock state="coming" class="size-3 border" /><GoodsBlock
        state="making"
        class="-ml-1 size-3 border"
      />ordered, being made</span
    ><span class="flex items-center gap-1.5"
      ><GoodsBlock state="coming planned" class="size-3 border" /><GoodsBlock
        state="making planned"
        class="-ml-1 size-3 border"
      />planned</span
    >
  </span>
</template>
