<script setup lang="ts">
import { computed } from 'vue'
import type { Plan, Verdict } from '@/shared/api/types'
import { tick, type Change } from '../model'

/** What is easily forgotten and not fed: in the house but left off, or not in the list of loads at all. */
const props = defineProps<{ verdict: Verdict; plan: Plan }>()
const emit = defineEmits<{ change: [Change] }>()
const name = (key: string) => `not_needed:${key}`
const open = computed(() =>
  props.verdict.reminders.filter((r) => r.state !== 'fed' && !props.plan.ticks.includes(name(r.key))),
)
const waived = computed(() => props.verdict.reminders.filter((r) => props.plan.ticks.includes(name(r.key))))
</script>

<template>
  <details v-if="verdict.reminders.length">
    <summary>Easily forgotten{{ open.length ? `: ${open.length} not fed` : ', all thought of' }}</summary>
    <p v-for="r in open" :key="r.key">
      <b>{{ r.name }}</b>
      {{ r.state === 'left_off' ? `stays off (${r.loads.join(', ')}).` : 'is not among the loads.' }}
      {{ r.sentence }}
      <el-button class="link" @click="emit('change', tick(plan, name(r.key), true, `${r.name} is not needed`))">
        not needed
      </el-button>
    </p>
    <p v-for="r in waived" :key="r.key" class="soft">
      {{ r.name }} is not needed.
      <el-button class="link" @click="emit('change', tick(plan, name(r.key), false, `${r.name} is not needed`))">
        reconsider
      </el-button>
    </p>
  </details>
</template>

<style scoped>
details {
  margin: 12px 0;
}
summary {
  font: 650 15px var(--head);
  cursor: pointer;
}
p {
  margin: 6px 0;
}
</style>
