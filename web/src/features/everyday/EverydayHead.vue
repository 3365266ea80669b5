<script setup lang="ts">
import { tabs } from '@/shared/pageNames'
import PageTabs from '@/shared/ui/PageTabs.vue'

/** The head of every page of Everyday: its name, its pages, and in the slot what can be done there. */
const PAGES = tabs('everyday', 'tariffs', 'worth', 'saved', 'keeping')
</script>

<template>
  <header>
    <div>
      <h1>Everyday use</h1>
      <PageTabs label="Everyday use" :pages="PAGES" />
    </div>
    <div class="tools"><slot /></div>
  </header>
</template>
