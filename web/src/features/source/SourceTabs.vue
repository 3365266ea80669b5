<script setup lang="ts">
import { tabs } from '@/shared/pageNames'
import PageTabs from '@/shared/ui/PageTabs.vue'

/** The pages of Source. */
const PAGES = tabs('source', 'sun', 'fuel', 'joining', 'equipment')
</script>

<template>
  <PageTabs label="Power source" :pages="PAGES" />
</template>
