<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import HouseTabs from '@/shared/HouseTabs.vue'
import CompanyForm from './CompanyForm.vue'
import { several } from '@/shared/format'
import DivisionField from '@/shared/DivisionField.vue'

/** Whose installation this is, and its divisions. */
const query = useQuery({
  queryKey: ['people', 'company'],
  queryFn: () => ask(api.GET('/api/v1/house/company')),
})
const fresh = ref('')
const below = ref<number | null>(null)
const add = useAction(async () => {
  await ask(api.POST('/api/v1/divisions', { body: { name: fresh.value, parent: below.value } }))
  fresh.value = ''
})
const doing = ref<{ id: number; act: 'rename' | 'move' | 'merge' } | null>(null)
const renamed = ref('')
const other = ref<number | null>(null)
function begin(row: Schemas['DivisionOut'], act: 'rename' | 'move' | 'merge') {
  doing.value = { id: row.id, act }
  renamed.value = row.own
  other.value = act === 'move' ? row.parent_id : null
}
const change = useAction(async () => {
  const at = doing.value
  if (!at) return
  const params = { path: { number: at.id } }
  if (at.act === 'rename')
    await ask(api.PUT('/api/v1/divisions/{number}', { params, body: { name: renamed.value } }))
  else if (at.act === 'move')
    await ask(api.POST('/api/v1/divisions/{number}/move', { params, body: { parent: other.value } }))
  else
    await ask(api.POST('/api/v1/divisions/{number}/merge', { params, body: { into: Number(other.value) } }))
  // Whoever began another change meanwhile keeps that one open.
  if (doing.value === at) doing.value = null
})
const counted = (row: Schemas['DivisionOut']): string =>
  `${several(row.ideas, 'idea', 'ideas')}, ${several(row.people, 'person', 'people')}`
const WORDS = { rename: 'Call it so', move: 'Move it', merge: 'Merge it' }
</script>

<template>
  <div class="stack">
    <div>
      <h1>Company</h1>
      <p class="lead">Whose installation this is, and the divisions that ideas come from.</p>
    </div>
    <HouseTabs />
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <CompanyForm v-if="query.data.value" :company="query.data.value" />
      <section class="stack tight">
        <h2>Divisions</h2>
        <p v-if="!query.data.value?.divisions.length" class="note">
          None yet. Ideas say which division they come from; add the first one.
        </p>
        <table v-else class="ledger narrow">
          <tbody>
            <tr v-for="one in query.data.value.divisions" :key="one.id">
              <td>
                <span :style="{ paddingLeft: `${one.depth * 20}px` }">{{ one.own }}</span>
                <form v-if="doing?.id === one.id" class="note row" @submit.prevent="change.go()">
                  <el-input
                    v-if="doing.act === 'rename'"
                    v-model="renamed"
                    :aria-label="`Another name for ${one.own}`"
                  />
                  <label v-else class="row"
                    >{{ doing.act === 'move' ? 'It lies below' : `${counted(one)} go into` }}
                    <DivisionField
                      v-model="other"
                      label="Division above"
                      :without="one.id"
                      :nothing="doing.act === 'move' ? 'nothing: at the top' : undefined"
                  /></label>
                  <el-button
                    :disabled="change.busy.value || (doing.act === 'merge' && !other)"
                    native-type="submit"
                    >{{ WORDS[doing.act] }}
                  </el-button>
                  <el-button link type="primary" @click="doing = null">Cancel</el-button>
                  <Problem :error="change.error.value" />
                </form>
              </td>
              <td class="num">{{ counted(one) }}</td>
              <td class="num">
                <span class="row acts">
                  <el-button
                    :aria-label="`Rename ${one.own}`"
                    link
                    type="primary"
                    @click="begin(one, 'rename')"
                  >
                    Rename
                  </el-button>
                  <el-button :aria-label="`Move ${one.own}`" link type="primary" @click="begin(one, 'move')">
                    Move
                  </el-button>
                  <el-button
                    :aria-label="`Merge ${one.own}`"
                    link
                    type="primary"
                    @click="begin(one, 'merge')"
                  >
                    Merge
                  </el-button>
                </span>
              </td>
            </tr>
          </tbody>
        </table>
        <form class="row top" @submit.prevent="add.go()">
          <Field v-slot="{ id }" label="Another division" :fault="faultOf(add.error.value, 'division')"
            ><el-input :id="id" v-model="fresh" style="--chars: 28"
          /></Field>
          <Field v-slot="{ id }" label="below" :fault="faultOf(add.error.value, 'parent')"
            ><DivisionField :id="id" v-model="below" nothing="nothing: at the top"
          /></Field>
          <el-button class="low" :disabled="add.busy.value || !fresh.trim()" native-type="submit"
            >Add it</el-button
          >
        </form>
      </section>
    </Loaded>
  </div>
</template>

<style scoped>
.low {
  margin-top: 20px;
}
.narrow {
  max-width: 860px;
}
.acts {
  justify-content: flex-end;
  flex-wrap: nowrap;
  gap: 14px;
}
</style>
