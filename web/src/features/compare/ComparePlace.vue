<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { choose, useSession } from '@/shared/session/session'
import { hoursText, kwh, money } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import CompareHead from './CompareHead.vue'
import { hoursWords, type Cell, type PlanRow } from './model'
import PrintLink from '@/shared/ui/PrintLink.vue'
import { measured } from '@/shared/units/measures'
import Choice from '@/shared/ui/fields/Choice.vue'

/** Plans by outages: how long 9 times in 10, how likely the goal, what gives out, and what it costs and asks. */
const { state, plan } = useSession()
const route = useRoute()
const router = useRouter()
const against = ref('')
const held = computed(() => against.value || plan.value?.id || '')
const query = useHomeQuery('/api/homes/{home_id}/compare', {
  query: () => ({ against: held.value }),
  enabled: () => !!held.value,
})
const view = query.view
async function look(row: PlanRow, cell: Cell) {
  await choose({ plan: row.plan, outage: cell.outage })
  await router.push({ name: 'hours', params: route.params, query: { plan: row.plan, outage: cell.outage } })
}
</script>

<template>
  <div class="place">
    <CompareHead>
      <label
        >compared with
        <Choice :model-value="held" label="compared with" @change="against = $event">
          <el-option v-for="p in state?.plans ?? []" :key="p.id" :value="p.id" :label="p.name" /> </Choice
      ></label>
      <PrintLink sheet="compare" />
    </CompareHead>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <p v-else-if="!view" class="soft" role="status">Running every plan through every outage…</p>
    <div v-else class="scroll">
      <table aria-label="Plans by outages">
        <thead>
          <tr>
            <th scope="col">Plan</th>
            <th v-for="o in view.outages" :key="o.outage" scope="col">
              {{ o.name }} <small>goal <Fig :text="hoursText(o.goal_h)" quantity="goal" :of="o.outage" /></small>
            </th>
            <th scope="col">Money</th>
            <th scope="col">Work</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in view.rows" :key="r.plan">
            <th scope="row">
              <b>{{ r.name }}</b>
              <small
                >{{ r.source || 'no station yet'
                }}<template v-if="r.stored_wh"
                  >, <Fig :text="kwh(r.stored_wh)" quantity="stored" :of="r.plan" /></template
              ></small>
              <small>{{ r.status }}</small>
            </th>
            <td v-for="(c, i) in r.cells" :key="c.outage">
              <small class="of">{{ view.outages[i]?.name }}</small>
              <el-button class="cell" :class="{ reaches: c.reaches, bad: !c.fits }" @click="look(r, c)">
                <small v-if="c.headline.life" class="life">{{ c.headline.life }}</small>
                <small v-if="c.headline.may && c.headline.may_first" class="life">{{ c.headline.may }}</small>
                <b
                  :data-figure="c.fits ? '' : undefined"
                  :data-quantity="c.fits ? 'count_on' : undefined"
                  :data-of="`${r.plan} ${c.outage}`"
                  >{{ hoursWords(c) }}</b
                >
                <small v-if="c.headline.probably">{{ c.headline.probably }}</small>
                <small v-if="c.headline.goal">{{ c.headline.goal }}</small>
                <small v-if="c.headline.may && !c.headline.may_first">{{ c.headline.may }}</small>
                <small v-if="c.headline.instead">{{ c.headline.instead }}</small>
                <small v-if="c.headline.missing">{{ c.headline.missing }}</small>
                <small v-if="!c.reaches && c.neck && c.neck !== c.headline.life">{{ c.neck }}</small>
                <small v-if="c.beside" class="beside" :title="c.beside_more">{{ c.beside }}</small>
              </el-button>
            </td>
            <td class="money">
              <small class="of">Money</small>
              <b v-if="Number(r.price) > 0"><Fig :text="money(r.price, r.currency)" /></b>
              <b v-else-if="!r.unpriced.length">nothing to buy</b>
              <small v-if="r.unpriced.length">no price entered for {{ r.unpriced.join(', ') }}</small>
              <small v-if="r.per_kwh !== null"><Fig :text="`${money(r.per_kwh, r.currency)} a kWh`" /></small>
              <small v-if="r.beside" class="beside" :title="r.beside_more">{{ r.beside }}</small>
              <details v-if="r.costs.length">
                <summary>item by item</summary>
                <small v-for="i in r.costs" :key="i.name"
                  >{{ i.count > 1 ? `${i.count} × ` : '' }}{{ i.name }}:
                  {{ i.owned ? 'there already' : money(i.price, r.currency) }}</small
                >
              </details>
            </td>
            <td class="asks">
              <small class="of">Asks</small>
              <small v-for="h in r.hands" :key="h">{{ h }}</small>
              <small v-if="!r.hands.length">no one has to do anything</small>
              <small v-if="r.heaviest_kg"><Fig :text="measured('mass', r.heaviest_kg)" /> in one piece</small>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="soft small">
        A thick edge means that the plan reaches the goal 9 times in 10. No one has inspected the wiring, and this is
        not an approval or a permit. Prices are for the made-up equipment that ships with Imbuto, unless you entered
        your own. They don’t include labor, permits and tax.
      </p>
    </div>
  </div>
</template>

<style scoped>
.cell .life {
  color: var(--dark);
  font-weight: 600;
}
.scroll {
  flex: 1;
}
table {
  width: 100%;
  border-collapse: separate;
  border-spacing: 0 6px;
}
thead th {
  padding: 0 10px 2px 0;
  color: var(--soft);
  font-weight: 400;
  font-size: 13px;
  text-align: left;
  vertical-align: bottom;
}
small {
  display: block;
  color: var(--soft);
  font-weight: 400;
}
td,
tbody th {
  padding: 0 10px 0 0;
  text-align: left;
  vertical-align: top;
}
tbody th b {
  font: 650 16px var(--head);
}
.cell {
  width: 100%;
  min-height: 82px;
  padding: 6px 9px;
  border: 1px solid var(--line);
  border-radius: 8px;
  background: var(--sheet);
  text-align: left;
  vertical-align: top;
}
.cell:hover {
  border-color: var(--ink);
}
.cell b,
.money > b {
  font: 650 17px var(--head);
}
.reaches {
  border: 3px solid var(--stored);
}
.bad {
  border-style: dashed;
}
.bad b {
  color: var(--dark);
}
.beside {
  color: var(--ink);
}
.money,
.asks {
  min-width: 120px;
  padding-top: 6px;
}
summary {
  color: var(--soft);
  cursor: pointer;
  font-size: 12.5px;
}
.of {
  display: none;
}
/* A plan is a card where the columns have no room: each outage under the other, by its name. */
@media (max-width: 760px) {
  table,
  tbody,
  tr,
  td,
  tbody th {
    display: block;
  }
  thead {
    display: none;
  }
  tr {
    margin: 0 0 14px;
    padding: 10px 12px;
    border: 1px solid var(--line);
    border-radius: 9px;
    background: var(--sheet);
  }
  td,
  tbody th {
    padding: 4px 0;
  }
  .of {
    display: block;
  }
  .cell {
    min-height: 44px;
  }
}
</style>
