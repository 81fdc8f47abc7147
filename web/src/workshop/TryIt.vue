<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced, useNow } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask, newKey, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Choice from '@/shared/Choice.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import { lasted } from '@/shared/format'
import FormEnd from '@/shared/FormEnd.vue'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import PreCheck from '@/shared/PreCheck.vue'
import { useUnsaved } from '@/shared/unsaved'
import When from '@/shared/When.vue'
import SchemaForm from '@/shared/SchemaForm.vue'

/** Trying out a release that nobody else sees: where, on which robot, with what, and how it went before. */
const props = defineProps<{ release: Pick<Schemas['Release'], 'id' | 'inputs'> }>()
const TYPING_MS = 250
const LOOKS_AGAIN_MS = 5_000
const ENDED = ['done', 'failed', 'cancelled', 'lapsed', 'lost']
const router = useRouter()
const now = useNow({ interval: 1_000 })
const area = ref<number | null>(null)
const robot = ref<number | null>(null)
const inputs = ref<Record<string, unknown>>({})
const path = computed(() => ({ number: props.release.id }))
const chosen = refDebounced(
  computed(() => ({ area_id: area.value, robot_id: robot.value, inputs: inputs.value })),
  TYPING_MS,
)
const settled = (view: Schemas['TryoutView']) =>
  view.pre_check.every((need) => need.met) && view.last.every((run) => ENDED.includes(run.state))
const query = useQuery({
  queryKey: ['robots', 'tryout', () => props.release.id, chosen],
  placeholderData: keepPreviousData,
  // What runs do is told under another subject: while one works, or is waited for, it is looked at anew.
  refetchInterval: (one) => (one.state.data && settled(one.state.data) ? false : LOOKS_AGAIN_MS),
  queryFn: () =>
    ask(
      api.POST('/api/v1/releases/{number}/tryouts/look', {
        params: { path: path.value },
        body: chosen.value,
      }),
    ),
})
const seen = computed(() => query.data.value)
const areas = computed(() => (seen.value?.areas ?? []).map((one) => ({ value: one.id, words: one.name })))
const robots = computed(() =>
  (seen.value?.robots ?? []).map((one) => ({ value: one.id, words: `${one.name} on ${one.host}` })),
)
const here = computed({
  get: () => area.value ?? seen.value?.area_id ?? null,
  set: (now) => {
    area.value = now
    // Another area has other robots.
    robot.value = null
  },
})
const gone = ref(false)
useUnsaved('What the try-out is given', () => !gone.value && Object.keys(inputs.value).length > 0)
const key = newKey()
const start = useAction(async () => {
  const made = await ask(
    api.POST('/api/v1/releases/{number}/tryouts', {
      params: { path: path.value, header: { 'idempotency-key': key } },
      body: { area_id: here.value!, robot_id: robot.value, inputs: inputs.value },
    }),
  )
  gone.value = true
  await router.push(`/runs/${made.id}`)
})
</script>

<template>
  <section class="stack tight">
    <h2>Try it out</h2>
    <p class="quiet">
      It runs on a builder seat of yours, posts nothing to the tally and takes no seat from work. Nobody else
      sees the release, but who sees runs in the area sees this one.
    </p>
    <Loaded :pending="query.isPending.value" :error="seen ? null : query.error.value">
      <p v-if="seen && !seen.areas.length" class="note">
        You may start runs in no area, so there is nowhere to try it out. Whoever gives roles can give you one
        that starts runs.
      </p>
      <form v-else-if="seen" class="stack tight" @submit.prevent="start.go()">
        <div class="row">
          <Field v-slot="{ id }" label="Area" :fault="faultOf(start.error.value, 'area_id')">
            <Choice :id="id" v-model="here" :options="areas" />
          </Field>
          <Field v-slot="{ id }" label="Robot" :fault="faultOf(start.error.value, 'robot_id')">
            <Choice :id="id" v-model="robot" :options="robots" nothing="any that may work there" />
          </Field>
        </div>
        <SchemaForm v-model="inputs" :schema="release.inputs" :error="start.error.value" />
        <PreCheck short named="Pre-check of the try-out" :needs="seen.pre_check" />
        <FormEnd
          action="Try it out"
          :busy="start.busy.value"
          :error="start.error.value"
          :fields="['inputs.', 'area_id', 'robot_id']"
        />
      </form>
      <table v-if="seen?.last.length" class="ledger" aria-label="Tried before">
        <tbody>
          <tr v-for="run in seen.last" :key="run.id">
            <td style="width: 110px"><Glyph :state="run.state" /></td>
            <td>
              <router-link class="whole" :to="`/runs/${run.id}`">R-{{ run.id }}</router-link>
              <span class="quiet"> in {{ run.area }}{{ run.robot ? ` on ${run.robot}` : '' }}</span>
              <div class="quiet">{{ run.reason }}</div>
            </td>
            <td class="num">{{ lasted(run.started_at, run.ended_at, now.toISOString()) }}</td>
            <td class="num"><When :at="run.ended_at ?? run.made_at" /></td>
          </tr>
        </tbody>
      </table>
    </Loaded>
  </section>
</template>
