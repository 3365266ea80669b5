<script setup lang="ts">
import PageTabs from '@/shared/ui/PageTabs.vue'

/** The pages of Papers. */
const PAGES = [
  { name: 'papers', text: 'Sheets' },
  { name: 'work', text: 'Work and permissions' },
  { name: 'binder', text: 'Binder' },
]
</script>

<template>
  <h1 class="sr">Papers</h1>
  <PageTabs label="Papers" :pages="PAGES" />
</template>
