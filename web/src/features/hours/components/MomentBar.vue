<script setup lang="ts">
import { computed } from 'vue'
import type { Run } from '@/shared/api/types'
import { kwh, percent, watts } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import { LEFT, RIGHT, share } from '../axis'
import { momentOf } from '../moment'

/** A hand on the time axis, and what is so at that moment. */
const props = defineProps<{ run: Run }>()
const at = defineModel<number>({ required: true })
const now = computed(() => momentOf(props.run, at.value))
/** From the slider up through strips and curve. */
const tall = computed(() => 232 + 21 * (props.run.strips.length + (props.run.engine.length ? 1 : 0)))
const most = computed(() => now.value.fed.slice(0, 6))
const rest = computed(() => now.value.fed.length - most.value.length)
const spoken = computed(() => `${now.value.clock}, ${percent(now.value.charge)}`)
</script>

<template>
  <section class="moment" :style="{ '--left': `${LEFT}px`, '--right': `${RIGHT}px` }" aria-label="One moment">
    <div class="reach">
      <label for="moment" class="clock">{{ now.clock }}</label>
      <span class="track">
        <input
          id="moment"
          v-model.number="at"
          type="range"
          min="0"
          :max="run.shown_h"
          :step="1 / 12"
          :aria-valuetext="spoken"
        />
        <i aria-hidden="true" :style="{ left: share(at, run.shown_h), height: `${tall}px` }"></i>
      </span>
    </div>
    <p>
      <b><Fig :text="percent(now.charge)" /></b>{{ ' ' }}
      <Fig class="soft" :text="kwh(run.nominal_wh * now.charge)" />
      <span class="soft"
        >, 8 in 10 runs
        <template v-if="percent(now.low) === percent(now.high)">at <Fig :text="percent(now.low)" /></template>
        <template v-else>between <Fig :text="percent(now.low)" /> and <Fig :text="percent(now.high)" /></template
      ></span>
      <template v-if="now.dark"> · <b class="dark">off</b></template>
      <template v-else>
        · draws <b><Fig :text="watts(now.total)" /></b></template
      ><template v-if="now.sun"> · sun <Fig :text="watts(now.sun)" /></template
      ><template v-if="now.engine"> · generator runs</template>
    </p>
    <p class="soft small">
      <template v-for="(f, i) in most" :key="f.feed"
        >{{ i ? ', ' : '' }}{{ f.name }} <Fig :text="watts(f.w)" /></template
      ><template v-if="rest > 0">, and {{ rest }} more</template
      ><template v-if="!most.length">Nothing has power.</template>
    </p>
  </section>
</template>

<style scoped>
.moment {
  margin-top: -4px;
}
.reach {
  display: flex;
  align-items: center;
  padding-right: var(--right);
}
.clock {
  flex: 0 0 var(--left);
  padding-left: 14px;
  font: 650 15px var(--head);
}
.track {
  position: relative;
  flex: 1;
}
input {
  display: block;
  width: calc(100% + 16px);
  margin: 0 -8px;
}
i {
  position: absolute;
  bottom: 12px;
  border-left: 1px dashed var(--ink);
  pointer-events: none;
}
p {
  margin: 2px 0 0 14px;
}
.dark {
  color: var(--dark);
}
@media (max-width: 760px) {
  .reach {
    padding: 0 22px 0 48px;
    flex-direction: column;
    align-items: stretch;
  }
  .clock {
    flex: none;
    padding: 0;
  }
  input {
    min-height: 44px;
  }
  i {
    display: none;
  }
}
@media print {
  .moment {
    display: none;
  }
}
</style>
