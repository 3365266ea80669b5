<script setup lang="ts">
import { computed } from 'vue'
import type { GoalsView } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { hoursText, kwh, money } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** What doing without, or with less, frees in the judged pair. */
const props = defineProps<{ goals: GoalsView }>()
const { home, plan, outage } = useSession()
const WORDS = {
  none: '',
  do_without: 'leave it off',
  no_electricity: 'without electricity',
  less_power: 'with less power',
}
const medical = computed(() => Object.values(home.value?.loads ?? {}).filter((l) => l.own_battery_h > 0))
const some = computed(() => props.goals.substitutes.length > 0)
</script>

<template>
  <section>
    <h2>Leave off, or use something else</h2>
    <p v-if="!some" class="soft small">
      No load that “{{ plan?.name }}” powers has a substitute yet. Open a load to enter how to manage without it.
    </p>
    <ul v-else>
      <li v-for="s in goals.substitutes" :key="s.load">
        <b>{{ s.name }}</b> <span class="soft">{{ WORDS[s.kind] }}{{ s.note ? `: ${s.note}` : '' }}</span>
        <span class="frees">
          <template v-if="s.never_dark">keeps it on to the end</template>
          <template v-else>frees <Fig :text="hoursText(Math.max(0, s.hours))" /></template>
          in {{ outage?.name }}, <Fig :text="kwh(s.saved_wh)" /> to the goal<template v-if="s.price !== null"
            >, the same storage costs <Fig :text="money(s.price, s.currency)"
          /></template>
        </span>
      </li>
    </ul>
    <p v-for="l in medical" :key="l.id" class="small">
      <b>{{ l.name }}</b> runs <Fig :text="hoursText(l.own_battery_h)" /> on its own battery; the station must take over
      before that, and Imbuto never counts that battery twice.
    </p>
  </section>
</template>

<style scoped>
ul {
  margin: 6px 0;
  padding: 0;
  list-style: none;
}
li {
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
}
.frees {
  display: block;
}
</style>
