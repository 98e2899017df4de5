<template>
  <div class="flex h-screen flex-col">
    <main id="page" class="min-h-0 flex-1 overflow-y-auto" tabindex="-1"><slot /></main>
    <BenchNotices />
    <BenchSignInAgain />
  </div>
</template>
