<script setup lang="ts">
import PageTabs from '@/shared/ui/PageTabs.vue'

/** The head of every page of Storm day: its name, its pages, and in the slot what can be done there. */
const PAGES = [
  { name: 'ready', text: 'Ready' },
  { name: 'live', text: 'Outage now' },
  { name: 'storm', text: 'The order of hands' },
  { name: 'drill', text: 'Drill' },
  { name: 'tests', text: 'Tests' },
  { name: 'book', text: 'Logbook' },
]
</script>

<template>
  <header>
    <div>
      <h1>Storm day</h1>
      <PageTabs label="Storm day" :pages="PAGES" />
    </div>
    <div class="tools"><slot /></div>
  </header>
</template>
