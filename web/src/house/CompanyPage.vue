<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import HouseTabs from './HouseTabs.vue'

/** Whose installation this is, and its divisions. */
const query = useQuery({
  queryKey: ['people', 'company'],
  queryFn: () => ask(api.GET('/api/v1/house/company')),
})
const name = ref('')
const zone = ref('')
const currency = ref('')
const seen = ref<string | null>(null)
watch(
  query.data,
  (now) => {
    if (!now || seen.value !== null) return
    name.value = seen.value = now.name
    zone.value = now.zone
    currency.value = now.currency
  },
  { immediate: true },
)
const zones = Intl.supportedValuesOf('timeZone')
const kept = ref(false)
const save = useAction(async () => {
  kept.value = false
  const body = {
    name: name.value,
    zone: zone.value,
    currency: currency.value.toUpperCase(),
    seen: seen.value ?? '',
  }
  await ask(api.PUT('/api/v1/house/company', { body }))
  seen.value = name.value
  kept.value = true
})
const fresh = ref('')
const add = useAction(async () => {
  await ask(api.POST('/api/v1/divisions', { body: { name: fresh.value } }))
  fresh.value = ''
})
const renaming = ref<number | null>(null)
const renamed = ref('')
function begin(id: number, now: string) {
  renaming.value = id
  renamed.value = now
}
const rename = useAction(async () => {
  const path = { number: renaming.value ?? 0 }
  await ask(api.PUT('/api/v1/divisions/{number}', { params: { path }, body: { name: renamed.value } }))
  renaming.value = null
})
</script>

<template>
  <div class="stack">
    <div>
      <h1>House rules</h1>
      <p class="lead">Whose installation this is, and the divisions that ideas come from.</p>
    </div>
    <HouseTabs />
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <form class="stack tight" @submit.prevent="save.go()">
        <h2>Company</h2>
        <div class="row top">
          <Field v-slot="{ id }" label="Name" :fault="faultOf(save.error.value, 'company')"
            ><input :id="id" v-model="name" type="text" size="28"
          /></Field>
          <Field
            v-slot="{ id }"
            label="Time zone"
            help="days and months end in it"
            :fault="faultOf(save.error.value, 'zone')"
            ><input :id="id" v-model="zone" type="text" list="zones" size="22"
          /></Field>
          <Field
            v-slot="{ id }"
            label="Currency"
            help="stays once something is posted in it"
            :fault="faultOf(save.error.value, 'currency')"
            ><input :id="id" v-model="currency" type="text" maxlength="3" size="8"
          /></Field>
        </div>
        <datalist id="zones"><option v-for="one in zones" :key="one" :value="one" /></datalist>
        <Problem :error="save.error.value" :fields="['company', 'zone', 'currency']" />
        <p class="row">
          <button class="filled" :disabled="save.busy.value">Keep it</button>
          <span v-if="kept" role="status" class="quiet">Kept.</span>
        </p>
      </form>
      <section class="stack tight">
        <h2>Divisions</h2>
        <p v-if="!query.data.value?.divisions.length" class="note">
          None yet. Ideas say which division they come from; add the first one.
        </p>
        <table v-else class="ledger narrow">
          <tbody>
            <tr v-for="one in query.data.value.divisions" :key="one.id">
              <td>
                <form v-if="renaming === one.id" class="row" @submit.prevent="rename.go()">
                  <input v-model="renamed" type="text" :aria-label="`Another name for ${one.name}`" />
                  <button :disabled="rename.busy.value">Keep it</button>
                  <button type="button" class="plain" @click="renaming = null">Leave it</button>
                </form>
                <template v-else>{{ one.name }}</template>
              </td>
              <td class="num">
                <button v-if="renaming !== one.id" class="plain" @click="begin(one.id, one.name)">
                  Rename
                </button>
              </td>
            </tr>
          </tbody>
        </table>
        <Problem :error="rename.error.value" />
        <form class="row top" @submit.prevent="add.go()">
          <Field v-slot="{ id }" label="Another division" :fault="faultOf(add.error.value, 'division')"
            ><input :id="id" v-model="fresh" type="text" size="28"
          /></Field>
          <button class="low" :disabled="add.busy.value || !fresh.trim()">Add it</button>
        </form>
      </section>
    </Loaded>
  </div>
</template>

<style scoped>
.top {
  align-items: flex-start;
}
.low {
  margin-top: 20px;
}
.narrow {
  max-width: 520px;
}
</style>
