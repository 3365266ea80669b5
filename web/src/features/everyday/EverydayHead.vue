<script setup lang="ts">
import PageTabs from '@/shared/ui/PageTabs.vue'

/** The head of every page of Everyday: its name, its pages, and in the slot what can be done there. */
const PAGES = [
  { name: 'everyday', text: 'The week' },
  { name: 'tariffs', text: 'Tariffs' },
  { name: 'worth', text: 'Worth it?' },
  { name: 'keeping', text: 'Calendar' },
]
</script>

<template>
  <header>
    <div>
      <h1>Everyday</h1>
      <PageTabs label="Everyday" :pages="PAGES" />
    </div>
    <div class="tools"><slot /></div>
  </header>
</template>
