<script setup lang="ts">
import { reactive } from 'vue'
import type { BrokerBody } from '@/shared/api/types'

/** Where a broker is, and who one is there. */
const props = defineProps<{ demo: string; busy: boolean }>()
const emit = defineEmits<{ connect: [body: Required<BrokerBody>]; cancel: [] }>()
const form = reactive({ host: '', port: 1883, tls: false, user: '', password: '', ca: '' })

function fillDemo() {
  const [host = '', port = ''] = props.demo.split(':')
  Object.assign(form, { host, port: Number(port), tls: false, user: '', password: '', ca: '' })
}
</script>

<template>
  <form class="address" novalidate @submit.prevent="emit('connect', { ...form, host: form.host.trim() })">
    <label for="b-host">Name or address</label><el-input id="b-host" v-model="form.host" placeholder="192.168.1.20" />
    <label for="b-port">Port</label>
    <el-input-number id="b-port" v-model="form.port" :min="1" :max="65535" :controls="false" />
    <label for="b-user">User, if it asks for one</label><el-input id="b-user" v-model="form.user" autocomplete="off" />
    <label for="b-pass">Password</label>
    <el-input id="b-pass" v-model="form.password" type="password" autocomplete="off" />
    <el-checkbox v-model="form.tls">Encrypted (TLS)</el-checkbox>
    <template v-if="form.tls">
      <label for="b-ca">Certificate, if self-signed</label>
      <el-input
        id="b-ca"
        v-model="form.ca"
        type="textarea"
        :rows="3"
        placeholder="-----BEGIN CERTIFICATE-----"
        spellcheck="false"
      />
    </template>
    <p class="soft small">The password stays on this computer and is in no backup.</p>
    <div class="acts">
      <el-button native-type="submit" class="btn strong" :disabled="busy || !form.host.trim()">Connect</el-button>
      <el-button v-if="demo" class="btn" @click="fillDemo">Use the demo’s broker</el-button>
      <el-button class="btn" @click="emit('cancel')">Cancel</el-button>
    </div>
  </form>
</template>

<style scoped>
.address {
  display: grid;
  grid-template-columns: 170px minmax(0, 300px);
  gap: 8px 12px;
  align-items: center;
}
.address p,
.address .el-checkbox,
.acts {
  grid-column: 1 / -1;
  margin: 0;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
