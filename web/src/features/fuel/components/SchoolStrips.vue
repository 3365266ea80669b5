<script setup lang="ts">
import { computed } from 'vue'
import type { Engine, FuelView } from '@/shared/api/types'
import { amount, hoursText, percent, watts } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import { measured } from '@/shared/units/measures'

/** Both methods of running a generator, simulated in this outage, side by side on one axis. */
const props = defineProps<{ view: FuelView; engine: Engine; hours: number }>()
const emit = defineEmits<{ change: [Partial<Engine>, string] }>()
const NAMES = { fill: 'Charge and stop', carry: 'Power the house' } as const
const HOW = {
  fill: 'Starts when the charge is low, charges the battery as fast as the charger allows, and stops.',
  carry: 'Runs as long as there is fuel and powers the house. The battery waits.',
} as const
const days = computed(() => Array.from({ length: Math.ceil(props.hours / 24) - 1 }, (_, i) => (i + 1) * 24))
const left = (h: number) => `${(100 * Math.min(h, props.hours)) / props.hours}%`
const wide = (a: number, b: number) =>
  `max(2px, ${(100 * (Math.min(b, props.hours) - Math.min(a, props.hours))) / props.hours}%)`
const ends = (h: number | null) => (h === null ? 'still on at the end' : hoursText(h))
const litres = (l: number) => measured('volume', l)
const trips = (n: number) => (n === 0 ? 'one tank is enough' : n === 1 ? 'refueled once' : `refueled ${n} times`)
function pick(school: Engine['school']) {
  if (school !== props.engine.school) emit('change', { school }, `Generator: ${NAMES[school].toLowerCase()}`)
}
</script>

<template>
  <section v-if="view.schools.length" aria-label="Both methods">
    <p v-if="view.difference" class="why">{{ view.difference }}</p>
    <p v-if="view.alone" role="alert" class="alone">
      The generator is started by hand, and no one at home can do that, so it is off in these runs. Enter who can under
      House > Needs and people, or choose one that starts by itself.
    </p>
    <div class="schools">
      <article v-for="s in view.schools" :key="s.school" :class="{ now: s.school === engine.school }">
        <h2>
          <el-button class="pick" :aria-pressed="s.school === engine.school" @click="pick(s.school)">
            {{ NAMES[s.school] }}
          </el-button>
          <small v-if="s.school === engine.school">the plan’s method</small>
        </h2>
        <p class="soft small">{{ HOW[s.school] }}</p>
        <div class="lane" role="img" :aria-label="`Runs ${hoursText(s.run_h)} in ${s.runs} goes`">
          <i v-for="d in days" :key="d" class="day" :style="{ left: left(d) }"></i>
          <b v-for="x in s.spans" :key="x.from_h" :style="{ left: left(x.from_h), width: wide(x.from_h, x.to_h) }"></b>
        </div>
        <dl>
          <dt>Turns</dt>
          <dd>
            <Fig :text="hoursText(s.run_h)" /> in {{ s.runs }} {{ s.runs === 1 ? 'go' : 'goes' }}, at
            {{ percent(s.load_share) }} of its power
          </dd>
          <dt>Burns</dt>
          <dd>
            <Fig :text="litres(s.fuel_l)" />, <Fig :text="`${litres(s.a_day_l)} per day`" />; {{ trips(s.trips) }}
          </dd>
          <dt>Fuel lasts</dt>
          <dd>
            {{ s.fuel_days === null ? 'none is burnt' : `${amount(s.fuel_days)} days at that pace`
            }}<template v-if="s.gone_h !== null">, used up after <Fig :text="hoursText(s.gone_h)" /></template>
          </dd>
          <dt>Hours</dt>
          <dd><Fig :text="ends(s.hours)" />, lowest charge {{ percent(s.low) }}</dd>
        </dl>
        <p class="small">{{ s.reason }}</p>
      </article>
    </div>
    <p class="small soft">
      At your elevation the generator supplies <Fig :text="watts(view.running_w)" />. The station charges with at most
      <Fig :text="watts(view.charger_w)" />, which is 80% of that or the charger’s limit.
      <template v-if="view.minutes !== null">
        The station takes <Fig :text="hoursText(view.minutes / 60)" /> from the generator’s start charge to the stop
        level at the average load, so set an alarm.
      </template>
    </p>
  </section>
</template>

<style scoped>
.why {
  margin: 0 0 10px;
  padding: 8px 12px;
  border-left: 6px solid var(--engine);
  background: var(--sheet);
}
.alone {
  margin: 0 0 10px;
  padding: 7px 12px;
  border-left: 6px solid var(--dark);
  background: var(--sheet);
}
.schools {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 14px;
}
article {
  padding: 10px 14px 12px;
  border: 1px solid var(--line);
  border-radius: 10px;
  background: var(--sheet);
}
article.now {
  border: 2px solid var(--stored);
}
h2 {
  display: flex;
  gap: 10px;
  align-items: baseline;
}
h2 small {
  color: var(--soft);
  font: 400 12.5px var(--text);
}
.pick {
  padding: 0;
  border: 0;
  background: none;
  font: inherit;
}
article:not(.now) .pick {
  text-decoration: underline;
  text-underline-offset: 4px;
}
p {
  margin: 4px 0;
}
.lane {
  position: relative;
  height: 22px;
  margin: 8px 0;
  border-bottom: 1px solid var(--line-strong);
  background: var(--well);
}
.lane b {
  position: absolute;
  bottom: 0;
  height: 15px;
  background: repeating-linear-gradient(90deg, var(--engine) 0 3px, var(--sheet) 3px 4px);
}
.lane .day {
  position: absolute;
  bottom: 0;
  height: 22px;
  border-left: 1px dotted var(--line-strong);
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 2px 12px;
  margin: 0 0 6px;
  font-size: 13.5px;
}
dt {
  color: var(--soft);
}
dd {
  margin: 0;
}
@media (max-width: 760px) {
  .schools {
    grid-template-columns: 1fr;
  }
}
</style>
