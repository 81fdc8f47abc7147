<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { newArea } from '@/shared/newArea'
import MarginNotes from '@/shared/MarginNotes.vue'
import Problem from '@/shared/Problem.vue'
import RoutineForm, { type Setup } from './RoutineForm.vue'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'
import { copyOf, leftBehind, NOTHING_ASKED, ROUTINE_FIELDS } from './routineFields'

/** Setting up a release as a routine; what was begun is kept in this browser until it is done. */
const route = useRoute()
const router = useRouter()
const blank: Setup = {
  name: '',
  area_id: 0,
  release_id: Number(route.query.release) || 0,
  inputs: {},
  tags: [],
  asked: { ...NOTHING_ASKED, applications: [] },
  attended: '',
  attended_for: null,
  priority: 3,
  run_limit: 1,
  lease_minutes: 15,
  limit_minutes: 60,
  again_after_lost: false,
  most_attempts: 3,
  memory_mb: 1024,
  locks: [],
  idea_id: Number(route.query.idea) || null,
  basis: 'run',
  count_name: '',
  trial_again: false,
  release_why: '',
}
const setup = ref<Setup>(blank)
// Begun from an idea or a release it is another one than begun from nothing.
const copied = Number(route.query.copy) || null
const place = `routine-new-${blank.release_id}-${blank.idea_id ?? 0}${copied ? `-copy-${copied}` : ''}`
const unsent = useDraft('The routine', () => place, { setup })
const choices = useQuery({
  queryKey: ['routines', 'choices'],
  queryFn: () => ask(api.GET('/api/v1/routines/choices')),
})
const idea = computed(() => choices.data.value?.ideas.find((one) => one.id === setup.value.idea_id))
watchEffect(() => {
  if (!idea.value || setup.value.name || unsent.dirty.value) return
  setup.value.name = idea.value.title
  unsent.done()
})

// A copy begins as the other one is set up; what must be chosen anew is left open.
const other = useQuery({
  queryKey: ['routines', 'one', copied],
  enabled: copied !== null,
  queryFn: () => ask(api.GET('/api/v1/routines/{number}', { params: { path: { number: copied ?? 0 } } })),
})
watchEffect(() => {
  if (!other.data.value || setup.value.release_id || unsent.dirty.value) return
  setup.value = copyOf(other.data.value)
  unsent.done()
})
watchEffect(() => {
  if (copied || setup.value.area_id || unsent.dirty.value) return
  setup.value.area_id = newArea(choices.data.value?.areas ?? []) ?? 0
  unsent.done()
})

const save = useAction(async () => {
  const made = await ask(api.POST('/api/v1/routines', { body: setup.value }))
  unsent.done()
  await router.replace(`/workshop/routines/${made.id}`)
})
</script>

<template>
  <form class="stack" @submit.prevent="save.go()">
    <DraftNote :draft="unsent" />
    <div>
      <p class="quiet"><router-link to="/workshop">Workshop</router-link></p>
      <h1>Set up a routine</h1>
      <p class="lead">
        A routine is a release set up in an area. It starts on trial: nothing is tallied until you let it go
        live.
      </p>
    </div>
    <p v-if="other.data.value" class="note" role="status">
      A copy of <router-link :to="`/workshop/routines/${copied}`">{{ other.data.value.name }}</router-link> in
      {{ other.data.value.area }}. It needs a name and an area of its own; what else must change there says
      its pre-check below. Left behind: {{ leftBehind(other.data.value).join('; ') }}.
    </p>
    <Problem :error="other.error.value" />
    <RoutineForm
      v-model="setup"
      :error="save.error.value"
      :ideas="choices.data.value?.ideas ?? []"
      :areas="choices.data.value?.areas ?? []"
    />
    <Problem :error="save.error.value" :fields="ROUTINE_FIELDS" />
    <p class="row">
      <el-button
        :disabled="save.busy.value || !setup.area_id || !setup.release_id"
        type="primary"
        native-type="submit"
      >
        Set it up
      </el-button>
      <span v-if="!setup.area_id || !setup.release_id" class="quiet"
        >Choose an area and a release first.</span
      >
    </p>
    <MarginNotes>
      <section class="stack tight">
        <h2>What is counted</h2>
        <p class="quiet">
          An idea has one counting point: one routine, and what one unit of it is. Each unit saves the
          approved minutes by hand; their rate is proposed from the promise when you set the routine up. A
          package can report counts by name; what it counts as
          <code>handed_back</code> is taken off.
        </p>
      </section>
    </MarginNotes>
  </form>
</template>
