<script setup lang="ts">
/** A figure with its unit; every figure on screen goes through here. */
defineProps<{ text: string }>()
</script>

<template>
  <span data-figure class="fig">{{ text }}</span>
</template>

<style scoped>
.fig {
  white-space: nowrap;
}
</style>
