<script setup lang="ts">
/** Which of a plan's several stations is looked at; nothing where there is one. */
defineProps<{ stations: { source: string; name: string }[]; now: string }>()
const emit = defineEmits<{ pick: [string] }>()
</script>

<template>
  <nav v-if="stations.length" class="segments" aria-label="Stations of this plan">
    <el-button v-for="s in stations" :key="s.source" :aria-pressed="s.source === now" @click="emit('pick', s.source)">
      {{ s.name }}
    </el-button>
  </nav>
</template>
