<script setup lang="ts">
import { ref } from 'vue'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { useSession } from '@/shared/session/session'
import { money, number } from '@/shared/units/format'

/** Could it run without the grid? Asked for only once it is opened. */
const { pair } = useSession()
const open = ref(false)
const query = useHomeQuery('/api/homes/{home_id}/alone', {
  query: () => ({ plan: pair.value.plan }),
  enabled: () => open.value && !!pair.value.plan,
})
const view = query.view
</script>

<template>
  <details @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary>Could it run without the grid?</summary>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <p v-else-if="view === undefined" class="soft" role="status">Running the year without the grid…</p>
    <template v-else-if="view">
      <p v-for="line in view.says" :key="line">{{ line }}</p>
      <ul v-if="view.steps.length">
        <li v-for="s in view.steps" :key="s.label">
          <b>{{ s.label }}</b><template v-if="s.price != null">, {{ money(s.price, view.currency) }}</template
          >: {{ number(s.short) }} {{ s.short === 1 ? 'day' : 'days' }} short
        </li>
      </ul>
    </template>
  </details>
</template>

<style scoped>
summary {
  min-height: 28px;
  cursor: pointer;
}
p,
ul {
  margin: 4px 0;
}
</style>
