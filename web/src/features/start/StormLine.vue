<script setup lang="ts">
import { computed } from 'vue'
import type { StormAnswer } from '@/shared/api/types'
import Choice from '@/shared/ui/fields/Choice.vue'

/** One home under the shared storm: what its plan says of it, another plan, and what to do with it. */
const props = defineProps<{ name: string; answer: StormAnswer | null; problem: string }>()
defineEmits<{ plan: [string]; keep: [] }>()
const at = computed(() => `/home/${encodeURIComponent(props.answer?.home ?? '')}`)
const pair = computed(() => {
  const { plan = '', kept = '' } = props.answer ?? {}
  return `plan=${encodeURIComponent(plan)}&outage=${encodeURIComponent(kept)}`
})
</script>

<template>
  <li>
    <div class="said">
      <b>{{ name }}</b>
      <p v-if="problem" role="alert">{{ problem }}</p>
      <p v-else-if="!answer" class="soft" role="status">Calculating…</p>
      <template v-else>
        <p data-figure :class="{ short: !answer.reaches }">{{ answer.says }}</p>
        <p class="soft small">
          <Choice :model-value="answer.plan" :label="`Plan of ${name}`" @change="$emit('plan', $event)">
            <el-option v-for="p in answer.plans" :key="p.id" :value="p.id" :label="p.name" />
          </Choice>
          as warm as in “{{ answer.like_name }}”
        </p>
      </template>
    </div>
    <div v-if="answer" class="acts">
      <el-button v-if="!answer.kept" class="btn tiny" :aria-label="`Keep it here: ${name}`" @click="$emit('keep')"
        >Keep it here</el-button
      >
      <template v-else>
        <RouterLink class="btn tiny" :to="`${at}/hours?${pair}`" :aria-label="`Open ${name}`">Open</RouterLink>
        <a
          class="btn tiny"
          :href="`/api/homes/${encodeURIComponent(answer.home)}/papers/pack.pdf?${pair}&keep=true`"
          download
          :aria-label="`Papers, one PDF: ${name}`"
          >Papers, one PDF</a
        >
      </template>
    </div>
  </li>
</template>

<style scoped>
li {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  padding: 10px 2px;
  border-bottom: 1px solid var(--line);
}
.said {
  flex: 1 1 320px;
}
.said p {
  margin: 2px 0;
}
.said .choice {
  width: 190px;
  margin-right: 6px;
}
.short {
  color: var(--dark);
}
.acts {
  display: flex;
  gap: 8px;
  align-items: start;
}
</style>
