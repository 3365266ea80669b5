<script setup lang="ts">
import { computed, ref } from 'vue'
import type { GoalsView, Household } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { edit, useSession } from '@/shared/session/session'
import Choice from '@/shared/ui/fields/Choice.vue'

/** Who can act, and what a plan needs done by hand. */
defineProps<{ goals: GoalsView }>()
const { home, plan } = useSession()
type Person = Household['people'][string]
const people = computed(() => Object.values(home.value?.household.people ?? {}))
const name = ref('')
const WHERE = { home: 'usually at home', away: 'often away', helps_from_afar: 'helps remotely' }
const base = (id: string) => `/household/people/${escape(id)}` as const

function add() {
  const said = name.value.trim().slice(0, 80)
  if (!said) return
  const id = freshId(said, Object.keys(home.value?.household.people ?? {}))
  const value: Person = { id, name: said, where: 'home', frail: false, can_switch: false, note: '' }
  edit(`Someone who may act: ${said}`, [{ doc: 'home', op: 'add', path: base(id), value }])
  name.value = ''
}
function set(p: Person, field: keyof Person, value: unknown) {
  edit(`${p.name}: ${field.replace('_', ' ')}`, [{ doc: 'home', op: 'replace', path: `${base(p.id)}/${field}`, value }])
}
const remove = (p: Person) => edit(`${p.name} removed`, [{ doc: 'home', op: 'remove', path: base(p.id) }])
</script>

<template>
  <section>
    <h2>Who can act</h2>
    <ul>
      <li v-for="p in people" :key="p.id">
        <b>{{ p.name }}</b>
        <Choice :model-value="p.where" :label="`Where ${p.name} is`" @change="set(p, 'where', $event)">
          <el-option v-for="(t, k) in WHERE" :key="k" :value="k" :label="t" />
        </Choice>
        <el-checkbox :model-value="p.can_switch" @change="set(p, 'can_switch', !p.can_switch)">can switch</el-checkbox>
        <el-checkbox :model-value="p.frail" @change="set(p, 'frail', !p.frail)">frail</el-checkbox>
        <el-button class="link small soft" @click="remove(p)">remove</el-button>
      </li>
    </ul>
    <form novalidate class="new" @submit.prevent="add">
      <el-input v-model="name" aria-label="Person or role" placeholder="by role: grandmother, neighbor, me" />
      <el-button native-type="submit" class="btn" :disabled="!name.trim()">Add</el-button>
    </form>
    <template v-if="goals.steps.length">
      <h3>What “{{ plan?.name }}” needs done by hand</h3>
      <p v-if="goals.nobody" class="gap">{{ goals.nobody }}</p>
      <ol>
        <li v-for="s in goals.steps" :key="s.title" class="step">
          <b>{{ s.title }}.</b> {{ s.sentence }}
          <span class="soft">{{ s.stand_in ? 'A stand-in with the card can.' : 'Not for a stand-in alone.' }}</span>
        </li>
      </ol>
    </template>
  </section>
</template>

<style scoped>
ul,
ol {
  margin: 6px 0;
  padding: 0 0 0 18px;
}
ul {
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  padding: 3px 0;
}
.step {
  display: list-item;
}
h3 {
  margin-top: 12px;
}
.new {
  display: flex;
  gap: 8px;
}
.new .el-input {
  flex: 0 1 300px;
}
.gap {
  margin: 4px 0;
  padding-left: 8px;
  border-left: 4px solid var(--turns);
  font-weight: 650;
}
</style>
