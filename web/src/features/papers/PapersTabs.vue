<script setup lang="ts">
import { tabs } from '@/shared/pageNames'
import PageTabs from '@/shared/ui/PageTabs.vue'

/** The pages of Papers. */
const PAGES = tabs('papers', 'work', 'binder')
</script>

<template>
  <h1 class="sr">Papers</h1>
  <PageTabs label="Papers" :pages="PAGES" />
</template>
