<script setup lang="ts">
import { dayIn } from '@/shared/days'
import { useMe } from '@/shared/session'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import TokenTable from './TokenTable.vue'
import DayField from '@/shared/DayField.vue'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'

/** Tokens for one's programs: made, shown once, revoked. */
const query = useQuery({
  queryKey: ['tokens', 'mine'],
  queryFn: () => ask(api.GET('/api/v1/profile/tokens')),
})
const making = ref(false)
const name = ref('')
const scope = ref(new Set<string>())
const { zone } = useMe()
const inDays = (days: number) => dayIn(zone.value, days)
const ends = ref(inDays(90))
const made = ref('')
const copied = ref(false)
function tick(permission: string, on: boolean) {
  const now = new Set(scope.value)
  if (on) now.add(permission)
  else now.delete(permission)
  scope.value = now
}
const make = useAction(async () => {
  const body = { name: name.value, scope: [...scope.value], ends_on: ends.value }
  made.value = (await ask(api.POST('/api/v1/profile/tokens', { body }))).token
  making.value = copied.value = false
  name.value = ''
  unsent.done()
  scope.value = new Set()
})
async function copy() {
  await navigator.clipboard.writeText(made.value)
  copied.value = true
}
const groups = computed(() => {
  const all = query.data.value?.choices ?? []
  return [...new Set(all.map((one) => one.about))].map((about) => ({
    about,
    choices: all.filter((one) => one.about === about),
  }))
})
const rows = computed(() => query.data.value?.tokens ?? [])
const unsent = useDraft('The token', () => 'token', { name, ends }, { open: making })
</script>

<template>
  <section v-if="query.data.value?.may_make || rows.length" class="stack tight">
    <div class="spread">
      <h2>Tokens for programs</h2>
      <el-button v-if="query.data.value?.may_make && !making" @click="making = true">Make a token</el-button>
    </div>
    <div v-if="made" class="note stack tight">
      <p>
        <b>The token.</b> It is shown this once; the program sends it in the header
        <i>Authorization: Bearer</i>.
      </p>
      <p class="token">{{ made }}</p>
      <p class="row">
        <el-button @click="copy">{{ copied ? 'Copied' : 'Copy it' }}</el-button>
        <el-button @click="made = ''">I have kept it</el-button>
      </p>
    </div>
    <form v-if="making" class="note stack tight" @submit.prevent="make.go()">
      <DraftNote :draft="unsent" />
      <div class="row top">
        <Field v-slot="{ id }" label="For which program" :fault="faultOf(make.error.value, 'name')"
          ><el-input :id="id" v-model="name" style="--chars: 28"
        /></Field>
        <Field
          v-slot="{ id }"
          label="Good until"
          help="at most a year"
          :fault="faultOf(make.error.value, 'ends_on')"
          ><DayField :id="id" v-model="ends" :min="inDays(1)" :max="inDays(365)"
        /></Field>
      </div>
      <fieldset>
        <legend>What it may do, never more than you</legend>
        <div v-for="group in groups" :key="group.about" class="group">
          <h3>{{ group.about }}</h3>
          <el-checkbox
            v-for="one in group.choices"
            :key="one.permission"
            :model-value="scope.has(one.permission)"
            @change="(on: unknown) => tick(one.permission, on === true)"
            >{{ one.words }}</el-checkbox
          >
        </div>
      </fieldset>
      <p v-if="faultOf(make.error.value, 'scope')" class="bad" role="alert">
        {{ faultOf(make.error.value, 'scope') }}
      </p>
      <Problem :error="make.error.value" :fields="['name', 'ends_on', 'scope']" />
      <p class="row">
        <el-button :disabled="make.busy.value" type="primary" native-type="submit">Make it</el-button>
        <el-button @click="making = false">Cancel</el-button>
      </p>
    </form>
    <p v-if="!rows.length && !making" class="quiet">
      None. A token lets a program of yours read or change things as you, no more than you tick.
    </p>
    <TokenTable v-if="rows.length" :rows="rows" />
  </section>
</template>

<style scoped>
.token {
  font-family: ui-monospace, monospace;
  overflow-wrap: anywhere;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
  columns: 2;
  font-size: 13px;
}
.group {
  break-inside: avoid;
  margin-bottom: 8px;
}
legend {
  color: var(--ink-2);
}
</style>
