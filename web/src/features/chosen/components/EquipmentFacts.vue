<script setup lang="ts">
import { computed } from 'vue'
import type { TransferEquipment } from '@/shared/api/types'
import { amount, money, number } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** What a piece of transfer equipment is and does, what to look at before buying, and what is never planned. */
const props = defineProps<{ equipment: TransferEquipment; currency: string }>()
const facts = computed<[string, string][]>(() => {
  const e = props.equipment
  const cords = e.kind === 'cords'
  const rows: [string, string][] = [
    ['Switches to backup', e.automatic ? 'by itself' : 'by hand'],
    [
      'In',
      e.transfer_ms === null
        ? e.automatic
          ? 'a time its manufacturer doesn’t list'
          : 'minutes'
        : `${number(e.transfer_ms)} ms`,
    ],
  ]
  if (!cords) {
    rows.push(
      ['Places', `${e.places} places of ${amount(e.place_a)} A`],
      ['Inlet and feeder', `${amount(e.inlet_a)} A`],
      ['Overload without the grid', e.overload_off_grid],
      ['Overload with the grid on', e.overload_on_grid],
      ['Drops circuits automatically', e.sheds ? 'yes' : 'no'],
      ['Adds from the grid', e.tops_up ? 'yes, while the grid is on' : 'no'],
      ['Neutral', e.switched_neutral ? 'switched with the rest' : 'stays connected'],
      ['Wants', [e.electrician ? 'an electrician' : '', e.permit ? 'a permit' : ''].filter(Boolean).join(' and ')],
      ['Costs about', money(e.price, e.currency || props.currency)],
    )
  }
  return rows.filter(([, text]) => text)
})
const list = computed(() =>
  props.equipment.checklist
    .split(';')
    .map((t) => t.trim())
    .filter(Boolean),
)
</script>

<template>
  <details class="facts">
    <summary>About this equipment</summary>
    <p>{{ equipment.note }}</p>
    <dl>
      <template v-for="[name, text] in facts" :key="name">
        <dt>{{ name }}</dt>
        <dd>
          <Fig v-if="/\d/.test(text)" :text="text" /><template v-else>{{ text }}</template>
        </dd>
      </template>
    </dl>
    <h3>Check before you buy</h3>
    <ul>
      <li v-for="t in list" :key="t">{{ t }}</li>
    </ul>
    <h3>Never planned here</h3>
    <p>
      Powering a panel through a receptacle with a two-plug cord, or connecting two sources without a listed transfer
      device or interlock. Some people describe it online. The open plug is live in your hand, and the lines outside
      become live for the people who repair them. It violates code, and it has killed people.
    </p>
    <p>Only an electrician works behind the cover, on grounding and on bonding. Your local code decides.</p>
  </details>
</template>

<style scoped>
.facts {
  margin-bottom: 10px;
  padding: 6px 10px;
  border: 1px solid var(--line);
  border-radius: 8px;
  background: var(--sheet);
  font-size: 13px;
}
summary {
  cursor: pointer;
  color: var(--stored-ink);
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 2px 12px;
  margin: 6px 0;
}
dt {
  color: var(--soft);
}
dd {
  margin: 0;
}
ul {
  margin: 4px 0;
  padding-left: 18px;
}
h3 {
  margin-top: 8px;
}
p {
  margin: 4px 0;
}
</style>
