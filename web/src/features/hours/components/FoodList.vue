<script setup lang="ts">
import type { Run } from '@/shared/api/types'
import { hoursText } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import { measured, measures } from '@/shared/units/measures'

/** How warm each refrigerator and freezer gets over the outage, and how long it may rest. */
defineProps<{ food: Run['food'] }>()
const degrees = (c: number) => measured('temperature', c)
</script>

<template>
  <section v-if="food.length" aria-label="Food" class="food">
    <h2>Food</h2>
    <ul>
      <li v-for="f in food" :key="f.load" :class="{ warm: !f.safe }">
        <b>{{ f.name }}</b>
        <template v-if="f.longest_off_h < 0.1"> always has power.</template>
        <template v-else>
          is off for up to <Fig :text="hoursText(f.longest_off_h)" /> at a stretch{{ f.fed ? '' : ', not fed at all' }}:
          inside up to <Fig :text="degrees(f.warmest_c)" /><template v-if="f.over_h > 0.05"
            >, above <Fig :text="degrees(f.limit_c)" /> for <Fig :text="hoursText(f.over_h)" /></template
          >.
        </template>
        <span class="soft">
          <template v-if="f.may_off_h === null">In a room this cold, food keeps by itself.</template>
          <template v-else
            >With doors closed, it may be off about <Fig :text="hoursText(f.may_off_h)" /> before
            <Fig :text="degrees(f.limit_c)" />.</template
          >
        </span>
      </li>
    </ul>
    <p class="soft small">
      Trust the thermometer: put one in each. Perishables above {{ measures.system === 'us' ? '40 °F' : '4 °C' }} for
      two hours must be thrown away. Food that still has ice in it may be frozen again. Planning defaults, doors closed.
    </p>
  </section>
</template>

<style scoped>
ul {
  margin: 3px 0;
  padding: 0;
  list-style: none;
}
li {
  padding: 2px 0 2px 10px;
  border-left: 4px solid var(--line);
}
.warm {
  border-color: var(--dark);
}
p {
  margin: 4px 0 0;
}
</style>
