<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, newKey } from '@/api/client'
import { useAction } from '@/shared/action'
import Choice from '@/shared/Choice.vue'
import DayField from '@/shared/DayField.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import { several } from '@/shared/format'
import FormEnd from '@/shared/FormEnd.vue'
import Loaded from '@/shared/Loaded.vue'
import PreCheck from '@/shared/PreCheck.vue'
import { useMe } from '@/shared/session'
import { useUnsaved } from '@/shared/unsaved'
import { momentOf } from '@/shared/wall'
import WholeField from '@/shared/WholeField.vue'
import SchemaForm from '@/shared/SchemaForm.vue'
import StartRows from './StartRows.vue'

/** A start as somebody wants it: with which inputs, on which robot, when, how often, or once for each row of a table. */
const TYPING_MS = 250
const MOST_TIMES = 100
const FIELDS = ['inputs.', 'robot_id', 'at', 'times']
const route = useRoute()
const router = useRouter()
const { zone } = useMe()
const id = computed(() => Number(route.params.id))
const path = computed(() => ({ number: id.value }))
const query = useQuery({
  queryKey: ['routines', 'one', id],
  queryFn: () => ask(api.GET('/api/v1/routines/{number}', { params: { path: path.value } })),
})
const routine = computed(() => query.data.value)
const how = ref<'same' | 'rows'>('same')
const inputs = ref<Record<string, unknown> | null>(null)
// What the set-up says stands there first; what is changed here is for these runs alone.
watch(routine, (now) => (inputs.value ??= now ? { ...now.inputs } : null), { immediate: true })
const robot = ref<number | null>(null)
const wall = ref<string | null>(null)
const at = computed(() => (wall.value ? momentOf(wall.value, zone.value) : null))
const times = ref(1)
const wanted = computed(() => ({
  inputs: how.value === 'same' ? inputs.value : null,
  robot_id: robot.value,
  at: at.value,
  times: times.value,
}))
const looked = refDebounced(wanted, TYPING_MS)
const look = useQuery({
  queryKey: ['robots', 'start', id, looked],
  enabled: () => inputs.value !== null,
  placeholderData: keepPreviousData,
  queryFn: () =>
    ask(
      api.POST('/api/v1/routines/{number}/starts/look', {
        params: { path: path.value },
        body: looked.value,
      }),
    ),
})
const seen = computed(() => look.data.value)
const robots = computed(() =>
  (seen.value?.robots ?? []).map((one) => ({ value: one.id, words: `${one.name} on ${one.host}` })),
)
const barred = computed(() => (seen.value?.pre_check ?? []).some((need) => !need.met && need.bars))
// What was chosen here is asked after on leaving, until it has started something.
const gone = ref(false)
useUnsaved(
  'What the start is given',
  () =>
    !gone.value && !!inputs.value && JSON.stringify(inputs.value) !== JSON.stringify(routine.value?.inputs),
)
const key = newKey()
const start = useAction(async () => {
  const made = await ask(
    api.POST('/api/v1/routines/{number}/starts', {
      params: { path: path.value, header: { 'idempotency-key': key } },
      body: wanted.value,
    }),
  )
  gone.value = true
  await router.push(made.group ? `/runs/groups/${made.group}` : `/runs/${made.run}`)
})
const action = computed(() => {
  const what = times.value > 1 ? several(times.value, 'run', 'runs') : 'it'
  return `Start ${what}${at.value ? ' then' : ' now'}`
})
const fault = (name: string) => faultOf(start.error.value, name)
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="routine" class="stack">
      <div>
        <p class="quiet">
          <router-link to="/workshop">Workshop</router-link> ·
          <router-link :to="`/workshop/routines/${routine.id}`">{{ routine.name }}</router-link>
        </p>
        <h1>Start {{ routine.name }}</h1>
        <p class="lead">What is chosen here is for these runs alone; its set-up stays as it is.</p>
      </div>
      <p v-if="!routine.may.start" class="note">You may not start runs in {{ routine.area }}.</p>
      <template v-else>
        <el-radio-group v-model="how" aria-label="How often it starts">
          <el-radio value="same">Once, or several times the same</el-radio>
          <el-radio value="rows">A run for each row of a table</el-radio>
        </el-radio-group>
        <div class="row top">
          <Field v-if="!routine.attended" v-slot="{ id: field }" label="Robot" :fault="fault('robot_id')">
            <Choice :id="field" v-model="robot" :options="robots" nothing="any that may work there" />
          </Field>
          <Field
            v-slot="{ id: field, invalid }"
            label="Not before"
            :help="`left out: now; by the clock of ${zone}`"
            :fault="fault('at')"
          >
            <DayField :id="field" v-model="wall" timed :invalid="invalid" />
          </Field>
          <Field v-if="how === 'same'" v-slot="{ id: field, invalid }" label="Times" :fault="fault('times')">
            <WholeField :id="field" v-model="times" :min="1" :max="MOST_TIMES" :invalid="invalid" />
          </Field>
        </div>
        <form v-if="how === 'same' && inputs" class="stack tight" @submit.prevent="start.go()">
          <SchemaForm v-model="inputs" :schema="routine.input_schema" :error="start.error.value" />
          <PreCheck v-if="seen" short named="Pre-check of this start" :needs="seen.pre_check" />
          <FormEnd
            :action="action"
            :busy="start.busy.value"
            :error="start.error.value"
            :fields="FIELDS"
            :wait="barred ? 'What it is given does not fit yet, and does not pass by itself.' : ''"
          />
        </form>
        <StartRows v-else :routine="routine" :robot="robot" :at="at" />
      </template>
    </div>
  </Loaded>
</template>

<style scoped>
.top {
  align-items: flex-start;
}
</style>
