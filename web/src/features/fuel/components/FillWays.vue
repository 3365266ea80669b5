<script setup lang="ts">
import type { FuelView } from '@/shared/api/types'
import { amount, hoursText, watts } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** Every way to fill the station, and the plugs that have to meet. */
defineProps<{ view: FuelView }>()
</script>

<template>
  <section v-if="view.ways.length" class="ways">
    <h2>Ways to charge the station</h2>
    <table aria-label="Ways to charge the station">
      <thead>
        <tr>
          <th scope="col">From</th>
          <th scope="col" class="num">At most</th>
          <th scope="col" class="num">Stop level to full</th>
          <th scope="col"><span class="sr">What to do</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="w in view.ways" :key="w.name">
          <th scope="row">{{ w.name }}</th>
          <td class="num"><Fig :text="watts(w.watts)" /></td>
          <td class="num">
            <Fig v-if="w.hours !== null" :text="hoursText(w.hours)" /><template v-else>never</template>
          </td>
          <td class="soft">{{ w.note }}</td>
        </tr>
      </tbody>
    </table>
    <p class="soft small">
      Several at once don’t simply add up, because the battery and each input have their own limits. The slower last
      tenth isn’t included here.
    </p>
    <template v-if="view.plugs.length">
      <h2>Plugs that must match</h2>
      <ul>
        <li v-for="p in view.plugs" :key="p.start" :class="{ adapter: !p.fits }">
          {{ p.start }} → {{ p.end }}: <Fig :text="`${amount(p.amps)} A`" />, {{ p.note }}
        </li>
      </ul>
      <p class="soft small">
        One inlet serves station and generator in turn, never both at once. Check by eye and hand that twist-locks are
        seated. Never use a cord with live exposed pins.
      </p>
    </template>
  </section>
</template>

<style scoped>
.ways {
  margin-top: 16px;
}
table {
  margin-top: 4px;
  border-collapse: collapse;
}
th,
td {
  padding: 3px 18px 3px 0;
  border-bottom: 1px solid var(--line);
  text-align: left;
  font-weight: 400;
}
thead th {
  color: var(--soft);
  font-size: 12.5px;
}
.num {
  text-align: right;
}
h2 + ul {
  margin: 4px 0;
  padding-left: 18px;
}
p {
  margin: 6px 0 12px;
}
@media (max-width: 760px) {
  .ways {
    overflow-x: auto;
  }
}
</style>
