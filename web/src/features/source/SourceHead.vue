<script setup lang="ts">
import SourceTabs from './SourceTabs.vue'

/** The head of every page of Source: its name, its pages, and in the slot what can be done there. */
</script>

<template>
  <header>
    <div>
      <h1>Power source</h1>
      <SourceTabs />
    </div>
    <div class="tools"><slot /></div>
  </header>
</template>
