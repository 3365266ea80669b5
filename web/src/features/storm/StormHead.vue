<script setup lang="ts">
import { tabs } from '@/shared/pageNames'
import PageTabs from '@/shared/ui/PageTabs.vue'

/** The head of every page of Outages: its name, its pages, and in the slot what can be done there. */
const PAGES = tabs('ready', 'live', 'storm', 'drill', 'tests', 'book')
</script>

<template>
  <header>
    <div>
      <h1>Outages</h1>
      <PageTabs label="Outages" :pages="PAGES" />
    </div>
    <div class="tools"><slot /></div>
  </header>
</template>
