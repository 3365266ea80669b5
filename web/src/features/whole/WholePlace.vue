<script setup lang="ts">
import { computed } from 'vue'
import HouseTabs from '@/features/house/HouseTabs.vue'
import ReadingList from '@/features/house/components/ReadingList.vue'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { useSession } from '@/shared/session/session'
import { amount, hourOfDay, kwh, number, watts } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import BillField from './components/BillField.vue'
import WholeTable from './components/WholeTable.vue'

/** The house as a whole: energy by day and night, power apart, the bill beside the sum, and what reached no total. */
const { state, home, pair, outage } = useSession()
const whole = useHomeQuery('/api/homes/{home_id}/whole', { query: pair })
const w = whole.view
const nowhere = computed(() => (w.value?.loads ?? []).filter((l) => l.nowhere))
const name = (id: string) => home.value?.loads[id]?.name ?? id
const bar = (a: number, b: number) => `${(100 * a) / Math.max(a, b, 1)}%`
</script>

<template>
  <div class="place">
    <header>
      <div>
        <h1>House</h1>
        <HouseTabs />
      </div>
      <div class="tools">
        <a class="btn" :href="`/api/homes/${state?.id}/tables/loads`" download>Loads as CSV</a>
        <a v-if="home?.service.slots" class="btn" :href="`/api/homes/${state?.id}/tables/circuits`" download
          >Circuits as CSV</a
        >
        <a class="btn" :href="`/api/homes/${state?.id}/tables/readings`" download>Readings as CSV</a>
      </div>
    </header>
    <p v-if="whole.isError.value" role="alert">{{ whole.error.value?.message }}</p>
    <div v-else-if="w" class="columns">
      <div class="scroll left">
        <section>
          <h2>Energy per day</h2>
          <p class="big">
            <strong><Fig :text="kwh(w.house_wh_day)" quantity="house_day" /></strong> in
            {{ outage?.name ?? 'an average day' }}
          </p>
          <p>
            by day <Fig :text="kwh(w.day_wh)" />, from {{ hourOfDay(20) }} to {{ hourOfDay(8) }}
            <Fig :text="kwh(w.night_wh)" />;
            <template v-if="w.own_draw_w">
              the station’s own use comes on top: <Fig :text="watts(w.own_draw_w)" quantity="own_draw" />,
              <Fig :text="kwh(w.own_draw_wh_day)" /> per day</template
            ><template v-else>the station’s own use comes on top of it</template>.
          </p>
        </section>
        <section>
          <h2>Power at one moment</h2>
          <p>
            Everything at once would draw <Fig :text="watts(w.together_w)" />. Energy sizes the battery; what may run
            together sizes the inverter.
          </p>
        </section>
        <section>
          <h2>The bill</h2>
          <template v-if="w.bills">
            <div class="pair">
              <span>bill</span>
              <i :style="{ width: bar(w.bills.wh_day, w.bills.wh_day * w.bills.ratio) }" />
              <Fig :text="`${kwh(w.bills.wh_day)} per day`" />
              <span>loads</span>
              <i class="sum" :style="{ width: bar(w.bills.wh_day * w.bills.ratio, w.bills.wh_day) }" />
              <Fig :text="`${kwh(w.bills.wh_day * w.bills.ratio)} per day`" />
            </div>
            <p>The loads are <Fig :text="`${number(w.bills.ratio, 2)} ×`" /> the bill. {{ w.bills.sentence }}</p>
          </template>
          <p v-else class="soft">No bill yet. A bill is the only check for forgotten loads.</p>
          <BillField />
          <ReadingList :loads="[]" whole />
        </section>
        <section v-if="w.circuits.length">
          <h2>Circuits measured whole</h2>
          <p v-for="c in w.circuits" :key="c.circuit" class="gap">
            <b>{{ home?.circuits[c.circuit]?.name }}</b> measured <Fig :text="`${amount(c.measured_w)} W`" />, its loads
            add up to <Fig :text="`${amount(c.loads_w)} W`" />:
            <template v-if="Math.abs(c.gap_w) < Math.max(3, 0.1 * c.measured_w)">they agree.</template>
            <template v-else-if="c.gap_w > 0"
              ><Fig :text="`${amount(c.gap_w)} W`" /> not explained, so something else is on the circuits.</template
            >
            <template v-else><Fig :text="`${amount(-c.gap_w)} W`" /> too much in the list.</template>
          </p>
        </section>
        <section v-if="nowhere.length">
          <h2>Not in the total</h2>
          <p v-for="l in nowhere" :key="l.id" class="gap">
            <b>{{ name(l.id) }}</b>: {{ l.nowhere }}
          </p>
        </section>
        <section v-if="w.slots">
          <h2>Panel</h2>
          <p>
            <Fig :text="`${w.slots_used} of ${w.slots} slots`" /> taken, <Fig :text="`${w.doubles} doubles`" />,
            <Fig :text="`${w.tandems} tandems`" />,
            <Fig :text="`${w.untraced} ${w.untraced === 1 ? 'circuit' : 'circuits'}`" /> not traced yet.
          </p>
        </section>
      </div>
      <div class="scroll right" tabindex="0">
        <WholeTable :loads="w.loads" />
      </div>
    </div>
    <p v-else class="soft" role="status">Adding up…</p>
  </div>
</template>

<style scoped>
.left {
  flex: 0 1 370px;
}
.right {
  flex: 1;
  min-width: 0;
}
@media (max-width: 760px) {
  .right {
    position: relative;
    overflow-x: auto;
  }
}
section {
  margin-bottom: 16px;
}
p {
  margin: 4px 0;
}
.big strong {
  font: 650 30px var(--head);
}
.pair {
  display: grid;
  grid-template-columns: 44px 1fr 110px;
  gap: 4px 8px;
  align-items: center;
}
.pair i {
  height: 12px;
  background: var(--grid);
}
.pair .sum {
  background: var(--stored);
}
</style>
