<script setup lang="ts">
import type { LiveView } from '@/shared/api/types'
import { clock, number, percent } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** The grid is back: fill every store again, see that it charges, and know what a second outage would meet. */
defineProps<{ back: NonNullable<LiveView['back']> }>()
</script>

<template>
  <section>
    <h2 class="third">Charge again right away</h2>
    <article v-for="s in back.stores" :key="s.source">
      <p>
        <b>{{ s.name }}</b> <Fig :text="percent(s.charge)" /> at {{ clock(s.read_at) }}.
        <template v-if="s.charge >= 1">It is full.</template>
        <template v-else>
          {{ s.how }}
          <template v-if="s.watts">
            At <Fig :text="`${number(s.watts)} W`" /><template v-if="s.amps">, {{ s.amps }}</template></template
          ><template v-if="s.full_at">: full about {{ clock(s.full_at) }}</template
          >.
        </template>
      </p>
      <p v-if="s.charge < 1 && !s.fits" role="alert">Its circuit isn’t rated for that over hours.</p>
      <p v-if="s.confirmed && s.charge < 1">It charges: {{ s.confirmed }}.</p>
      <p v-else-if="s.charge < 1">
        <b>Charging isn’t confirmed yet.</b> Note its display, with the watts in: “{{ Math.round(100 * s.charge) }}% in
        {{ number(s.watts || 1000) }} W”.
      </p>
      <p v-if="s.now_h && s.charge < 1" class="soft">
        If the power goes out again before that: about <Fig :text="s.now_h" /> from its charge.
      </p>
    </article>
  </section>
</template>

<style scoped>
p {
  max-width: 62ch;
  margin: 4px 0;
}
article {
  margin-bottom: 12px;
}
</style>
