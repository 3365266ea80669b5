<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, onMounted, shallowRef } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { BrokerView } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { withUnit } from '@/shared/units/withUnit'
import Fig from './Fig.vue'

/** What the home's own instruments tell now, beside a test: to be read off, never noted by itself. */
const { state } = useSession()
const seen = shallowRef<BrokerView | null>(null)
const POLL_MS = 2000
const picks = computed(() => (seen.value?.state === 'off' ? [] : (seen.value?.picks ?? [])))
const slow = computed(() => picks.value.some((p) => p.start_at_least != null))

async function read() {
  // Without a broker there is nothing to ask again for.
  if (seen.value && !seen.value.picks.length) return
  const path = { home_id: state.value?.id ?? '' }
  seen.value = await answer(api.GET('/api/homes/{home_id}/broker', { params: { path } })).catch(() => null)
}
onMounted(read)
useIntervalFn(() => void read(), POLL_MS)
</script>

<template>
  <section v-if="picks.length" class="now" aria-label="Your instruments now">
    <p class="soft small">Your instruments now</p>
    <ul>
      <li v-for="p in picks" :key="p.id">
        <b>{{ p.of }}</b>
        <Fig v-if="p.now !== null" :text="withUnit(p.now, p.meaning)" />
        <span v-else>no value now</span>
        <small v-if="p.start_at_least != null" class="soft"
          >highest <Fig :text="withUnit(p.start_at_least, 'W')"
        /></small>
      </li>
    </ul>
    <p v-if="slow" class="soft small">
      An instrument that reads less than ten times a second misses the peak of a start: the start drew at least the
      highest value here.
    </p>
  </section>
</template>

<style scoped>
.now {
  margin: 8px 0;
  padding: 6px 10px;
  border: 1px solid var(--line);
  border-radius: 9px;
}
p {
  margin: 2px 0;
}
ul {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
  margin: 2px 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: baseline;
}
</style>
