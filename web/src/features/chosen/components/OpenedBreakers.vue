<script setup lang="ts">
import { computed, ref } from 'vue'
import type { BoardView, Home, Plan } from '@/shared/api/types'
import { edit } from '@/shared/session/session'
import { openBy } from '../devices'

/** Behind gear that makes a whole panel live: what is left off, and whose hand opens its breaker. */
const props = defineProps<{ board: BoardView; plan: Plan; home: Home; selected: string | null }>()
const emit = defineEmits<{ select: [string] }>()
const fed = computed(() => new Set(Object.values(props.plan.feeds).map((f) => f.circuit)))
const left = computed(() => props.board.beneath.filter((id) => !fed.value.has(id)))
const live = computed(() => left.value.filter((id) => !props.plan.opened[id]))
const open = computed(() => left.value.filter((id) => props.plan.opened[id]))
const people = computed(() => {
  const able = Object.values(props.home.household.people).filter((p) => p.can_switch)
  return able.map((p) => p.name)
})
const who = ref('')
const name = (id: string) => props.home.circuits[id]?.name ?? id

function openAll() {
  const hand = who.value.trim()
  if (!hand || !live.value.length) return
  const change = openBy(props.plan, live.value, hand, `${live.value.length} breakers opened by ${hand}`)
  edit(change.label, change.ops)
}
function close(id: string) {
  const change = openBy(props.plan, [id], '', `${name(id)}: no one opens it`)
  edit(change.label, change.ops)
}
</script>

<template>
  <section v-if="left.length" class="left">
    <h3>Left off: breakers that someone opens</h3>
    <p v-if="live.length" class="small">
      Still live but not in the plan:
      <template v-for="(id, i) in live" :key="id"
        >{{ i ? ', ' : ''
        }}<el-button class="link" :aria-pressed="id === selected" @click="emit('select', id)">
          {{ name(id) }}
        </el-button></template
      >
    </p>
    <form v-if="live.length" class="by" @submit.prevent="openAll">
      <label for="opens">Opened by</label>
      <el-input id="opens" v-model="who" list="hands" maxlength="200" placeholder="a name" />
      <datalist id="hands"><option v-for="p in people" :key="p" :value="p" /></datalist>
      <el-button native-type="submit" class="btn" :disabled="!who.trim()">all of these</el-button>
    </form>
    <ul v-if="open.length">
      <li v-for="id in open" :key="id">
        <el-button class="link" @click="emit('select', id)">{{ name(id) }}</el-button>
        <span class="soft small">{{ plan.opened[id] }} opens it</span>
        <el-button class="link small" :aria-label="`Nobody opens ${name(id)}`" @click="close(id)">no</el-button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.left {
  margin-top: 10px;
}
.by {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  font-size: 13px;
}
.by .el-input {
  flex: 1 1 110px;
  min-width: 0;
}
ul {
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 0 8px;
  align-items: baseline;
}
</style>
