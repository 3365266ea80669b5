<script setup lang="ts">
import { usePaper } from '../paper'

/** A sheet as PDF, made by the same maker as those of Papers: with hours, revision, and what it is not. */
defineProps<{ sheet: string }>()
const { address, noted } = usePaper()
</script>

<template>
  <a class="btn" :href="address(sheet, 'pdf')" target="_blank" rel="noopener" @click="noted(sheet)">Print</a>
</template>
