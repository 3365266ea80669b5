<script setup lang="ts">
import { computed } from 'vue'
import type { Run } from '@/shared/api/types'
import { hoursText } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** What makes the hours uncertain, so that people know whether to measure, to behave or to buy. */
const props = defineProps<{ run: Run }>()
const WORDS: Record<string, { name: string; todo: string }> = {
  loads: { name: 'load figures', todo: 'measure the load that House lists under “Meter next”' },
  habits: { name: 'habits', todo: 'agree on what stays off and when' },
  weather: { name: 'the weather', todo: 'check the hours without solar' },
  battery: { name: 'the battery', todo: 'test its real capacity' },
}
const parts = computed(() => props.run.made_of.filter((p) => p.hours >= 0.1).sort((a, b) => b.hours - a.hours))
const widest = computed(() => parts.value[0]?.hours ?? 1)
</script>

<template>
  <section v-if="parts.length" class="made" aria-label="Sources of uncertainty">
    <h2 class="third">What makes the hours uncertain</h2>
    <div v-for="(p, i) in parts" :key="p.part" class="part">
      <span>{{ WORDS[p.part]?.name ?? p.part }}</span>
      <i aria-hidden="true"><i :style="{ width: `${(100 * p.hours) / widest}%` }"></i></i>
      <b><Fig :text="`± ${hoursText(p.hours / 2)}`" /></b>
      <span v-if="i === 0" class="soft">{{ WORDS[p.part]?.todo }}</span>
    </div>
  </section>
</template>

<style scoped>
.made {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 22px;
  align-items: center;
}
.third {
  margin: 0;
}
.part {
  display: flex;
  gap: 7px;
  align-items: center;
  font-size: 13px;
}
.part > i {
  display: block;
  width: 54px;
  height: 7px;
  border-radius: 4px;
  background: var(--spine);
}
.part > i > i {
  display: block;
  height: 100%;
  border-radius: 4px;
  background: var(--stored);
}
</style>
