<script setup lang="ts">
import type { SubPanel } from '@/shared/api/types'

/** Which of a home's panels is looked at; nothing where there is one. */
defineProps<{ panels: SubPanel[]; now: string | null }>()
const emit = defineEmits<{ pick: [string | null] }>()
</script>

<template>
  <nav v-if="panels.length" class="segments" aria-label="Panels">
    <el-button :aria-pressed="now === null" @click="emit('pick', null)">Main panel</el-button>
    <el-button v-for="p in panels" :key="p.id" :aria-pressed="p.id === now" @click="emit('pick', p.id)">
      {{ p.name }}
    </el-button>
  </nav>
</template>
