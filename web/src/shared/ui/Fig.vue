<script setup lang="ts">
/**
 * Show a figure with its unit; every figure on screen goes through here. ``quantity`` is its name in the server's
 * register of quantities that stand in several places; ``of`` the plan and outage, where they are not the page's own.
 */
defineProps<{ text: string; quantity?: string; of?: string }>()
</script>

<template>
  <span data-figure class="fig" :data-quantity="quantity" :data-of="of">{{ text }}</span>
</template>

<style scoped>
.fig {
  white-space: nowrap;
}
</style>
