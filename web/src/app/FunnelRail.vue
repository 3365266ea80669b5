<script setup lang="ts">
import { nextTick, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import Fig from '@/shared/ui/Fig.vue'
import HomeMenu from './HomeMenu.vue'
import { useRailFigures } from './railFigures'
import { PAGES_OF } from './router'
import TurnBack from '@/app/bar/TurnBack.vue'

defineEmits<{ sheet: []; help: [] }>()
const route = useRoute()
const bands = useRailFigures()
const isHere = (place: string) => (PAGES_OF[place] ?? [place]).includes(String(route.name))
const strip = ref<HTMLElement>()
/** On a phone the places stand in one row, and the one that is open is brought into sight. */
watch(
  () => route.name,
  async () => {
    await nextTick()
    strip.value?.querySelector('.here')?.scrollIntoView?.({ block: 'nearest', inline: 'center' })
  },
  { immediate: true },
)
</script>

<template>
  <nav aria-label="The funnel">
    <HomeMenu />
    <svg class="funnel" viewBox="0 0 232 440" preserveAspectRatio="none" aria-hidden="true">
      <path d="M0 0H232L196 336L148 366V398H84V366L36 336Z" />
    </svg>
    <div ref="strip" class="strip">
      <div class="bands">
        <RouterLink
          v-for="(band, i) in bands"
          :key="band.place"
          class="band"
          :class="{ here: isHere(band.place) }"
          :style="{ '--inset': `${14 + i * 11}px` }"
          :to="{ name: band.place, params: route.params, query: route.query }"
          :aria-current="isHere(band.place) ? 'page' : undefined"
        >
          <strong>{{ band.title }}</strong>
          <span class="first"
            ><Fig v-if="band.figure" :text="band.first" :quantity="band.quantity" /><template v-else>{{
              band.first
            }}</template></span
          >
          <span class="second">{{ band.second }}</span>
        </RouterLink>
        <svg class="drop" viewBox="0 0 40 60" aria-hidden="true">
          <path d="M16 0h8v14h-8z" />
          <path d="M20 20c5 8 9 13 9 18a9 9 0 0 1-18 0c0-5 4-10 9-18z" />
        </svg>
      </div>
      <div class="afters">
        <RouterLink
          class="after"
          :class="{ here: route.name === 'compare' || route.name === 'size' }"
          :to="{ name: 'compare', params: route.params, query: route.query }"
          >Compare</RouterLink
        >
        <RouterLink
          class="after"
          :class="{ here: isHere('everyday') }"
          :to="{ name: 'everyday', params: route.params, query: route.query }"
          >Everyday use</RouterLink
        >
        <RouterLink
          class="after"
          :class="{ here: isHere('storm') }"
          :to="{ name: 'ready', params: route.params, query: route.query }"
          >Outages</RouterLink
        >
        <RouterLink
          class="after"
          :class="{ here: isHere('papers') }"
          :to="{ name: 'papers', params: route.params, query: route.query }"
          >Papers</RouterLink
        >
      </div>
    </div>
    <TurnBack class="foot" @sheet="$emit('sheet')" @help="$emit('help')" />
  </nav>
</template>

<style scoped>
nav {
  position: relative;
  display: flex;
  flex-direction: column;
  background: var(--deep);
  color: var(--on-deep);
  min-height: 0;
}
.funnel {
  position: absolute;
  top: 74px;
  left: 0;
  width: 232px;
  height: 440px;
}
.funnel path {
  fill: var(--deep-band);
}
.bands {
  position: relative;
  padding-top: 10px;
}
.band {
  display: flex;
  flex-direction: column;
  align-items: center;
  justify-content: center;
  height: 78px;
  margin: 0 var(--inset) 5px;
  padding: 4px 2px;
  border-radius: 7px;
  color: var(--on-deep);
  text-align: center;
  text-decoration: none;
}
.band + .band::before {
  content: '';
  position: absolute;
  width: calc(232px - 2 * var(--inset) - 12px);
  margin-top: -84px;
  border-top: 2px solid var(--deep-line);
}
.band strong {
  font: 650 17px var(--head);
}
.band .second {
  font-size: 12px;
  color: var(--on-deep-soft);
}
.band.here {
  background: var(--sheet);
  color: var(--ink);
}
.band.here .second {
  color: var(--soft);
}
.afters {
  position: relative;
  display: grid;
  grid-template-columns: 9fr 11fr;
  gap: 8px;
  margin: 8px 12px 0;
  text-align: center;
}
.after {
  padding: 5px 3px;
  border: 1px solid var(--deep-line);
  border-radius: 8px;
  color: var(--on-deep);
  font: 650 15px var(--head);
  text-decoration: none;
}
.after.here {
  background: var(--sheet);
  color: var(--ink);
}
.drop {
  display: block;
  width: 40px;
  height: 56px;
  margin: 26px auto 0;
}
.drop path {
  fill: #8cc7c3;
}
.foot {
  margin-top: auto;
  padding: 0 14px 12px;
}
.strip {
  display: contents;
}
.band:focus-visible,
.after:focus-visible {
  outline-color: var(--gain);
}
@media (max-height: 720px) and (min-width: 761px) {
  .drop {
    display: none;
  }
}
@media (max-width: 760px) {
  .funnel,
  .drop,
  .foot,
  .band + .band::before,
  .band .second {
    display: none;
  }
  .strip {
    display: flex;
    gap: 4px;
    padding: 0 8px;
    overflow-x: auto;
    scrollbar-width: none;
  }
  .bands,
  .afters {
    display: flex;
    flex: none;
    gap: 4px;
    margin: 0;
    padding: 0;
  }
  .band,
  .band + .band,
  .after {
    display: flex;
    flex-direction: column;
    align-items: center;
    justify-content: center;
    height: 44px;
    margin: 0;
    padding: 0 10px;
    border: 0;
    border-radius: 8px 8px 0 0;
    font: 650 14px/1.15 var(--head);
    white-space: nowrap;
  }
  .band {
    background: var(--deep-band);
  }
  .band strong {
    font-size: 14px;
  }
  .band .first {
    font-size: 12px;
  }
  .band.here,
  .after.here {
    background: var(--sheet);
  }
}
</style>
