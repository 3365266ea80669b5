<script setup lang="ts">
import { tabs } from '@/shared/pageNames'
import PageTabs from '@/shared/ui/PageTabs.vue'

/** The head of both pages of Compare: its name, its pages, and in the slot what can be done there. */
const PAGES = tabs('compare', 'size')
</script>

<template>
  <header>
    <div>
      <h1>Compare</h1>
      <PageTabs label="Compare" :pages="PAGES" />
    </div>
    <div class="tools fields"><slot /></div>
  </header>
</template>

<style scoped>
.tools :slotted(label) {
  display: flex;
  gap: 8px;
  align-items: center;
  color: var(--soft);
}
</style>
