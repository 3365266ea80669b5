<script setup lang="ts">
import { computed } from 'vue'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { useSession } from '@/shared/session/session'
import { clock, number } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import EverydayHead from './EverydayHead.vue'

/** Who switches what and when, what is looked after how often, and what may run on spare sun. */
const { state, pair } = useSession()
const query = useHomeQuery('/api/homes/{home_id}/keeping', { query: pair, enabled: () => !!pair.value.plan })
const view = query.view
const file = computed(() => {
  const asked = new URLSearchParams({ ...pair.value }).toString()
  return `/api/homes/${encodeURIComponent(state.value?.id ?? '')}/keeping.ics?${asked}`
})
const EVERY: Record<string, string> = {
  once: '',
  day: 'every day',
  week: 'every week',
  month: 'every month',
  half_year: 'every half year',
  year: 'every year',
}
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
const on = (days: number[]) => (!days.length || days.length === 7 ? '' : ` on ${days.map((d) => DAYS[d]).join(', ')}`)
</script>

<template>
  <div class="place keeping">
    <EverydayHead><a class="btn" :href="file" download>As a calendar</a></EverydayHead>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <p v-else-if="!view" class="soft" role="status">Loading…</p>
    <div v-else class="columns">
      <section class="scroll" tabindex="0">
        <ol>
          <li v-for="d in view.duties" :key="d.id">
            <p class="when">
              {{ d.first.slice(0, 10) }} <small>{{ clock(d.first) }}</small>
            </p>
            <div>
              <b>{{ d.title }}</b>
              <small class="soft">&nbsp;{{ EVERY[d.every] }}{{ on(d.on) }}{{ d.who ? `, ${d.who}` : '' }}</small>
              <p>{{ d.why }}</p>
            </div>
          </li>
        </ol>
      </section>
      <section class="scroll spare" tabindex="0">
        <h2 class="third">On spare solar power</h2>
        <p>{{ view.says }}</p>
        <ul>
          <li v-for="s in view.spare" :key="s.load">
            <b>{{ s.name }}</b> <Fig :text="`${number(s.w)} W`" />
            <small>&nbsp;{{ s.fits ? 'fits, one at a time' : 'needs more than that' }}</small>
          </li>
        </ul>
        <p class="soft small">iCalendar: import the file into any calendar. Importing it again updates the entries.</p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.columns > section:first-child {
  flex: 1;
}
.spare {
  flex: 0 0 320px;
}
ol,
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
ol li {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 12px;
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}
ul li {
  padding: 4px 0;
  border-bottom: 1px solid var(--line);
}
p {
  margin: 2px 0;
}
.when small {
  display: block;
  color: var(--soft);
}
@media (width < 900px) {
  .spare {
    flex: auto;
  }
}
</style>
