<script setup lang="ts">
import PageTabs from '@/shared/ui/PageTabs.vue'

/** The pages of Source. */
const PAGES = [
  { name: 'source', text: 'Station' },
  { name: 'sun', text: 'Sun' },
  { name: 'fuel', text: 'Fuel' },
  { name: 'joining', text: 'How it is joined' },
  { name: 'equipment', text: 'Equipment' },
]
</script>

<template>
  <PageTabs label="Source" :pages="PAGES" />
</template>
