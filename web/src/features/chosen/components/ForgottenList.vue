<script setup lang="ts">
import { computed } from 'vue'
import type { Plan, Verdict } from '@/shared/api/types'
import FoldSection from '@/shared/ui/FoldSection.vue'
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
  <FoldSection
    v-if="verdict.reminders.length"
    id="chosen.forgotten"
    title="Easily forgotten"
    :holds="open.length || 'all thought of'"
  >
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
  </FoldSection>
</template>

<style scoped>
p {
  margin: 6px 0;
}
</style>
