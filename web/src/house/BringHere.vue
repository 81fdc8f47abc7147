<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Field from '@/shared/Field.vue'
import PreCheck from '@/shared/PreCheck.vue'
import Problem from '@/shared/Problem.vue'

/**
 * Finds a routine, a robot or a release wherever it lies. The first two move to this area from here: what they would
 * lack there is seen first. Who sees a release is changed on its page.
 */
const props = defineProps<{ area: Schemas['AreaOut'] }>()
const emit = defineEmits<{ leave: [] }>()
const path = computed(() => ({ number: props.area.id }))
const text = ref('')
const typed = refDebounced(text, 250)
const chosen = ref<Schemas['Lying'] | null>(null)
const found = useQuery({
  queryKey: ['areas', 'here', () => props.area.id, typed],
  placeholderData: keepPreviousData,
  queryFn: () =>
    ask(
      api.GET('/api/v1/areas/{number}/here', { params: { path: path.value, query: { text: typed.value } } }),
    ),
})
const routine = computed(() => (chosen.value?.what === 'routine' ? chosen.value.id : 0))
// What it would lack there: judged by the same rule as its own pre-check.
const there = useQuery({
  queryKey: ['routines', 'there', routine, () => props.area.id],
  enabled: () => routine.value > 0,
  queryFn: async () => {
    const one = await ask(
      api.GET('/api/v1/routines/{number}', { params: { path: { number: routine.value } } }),
    )
    const { release_id, tags, asked, inputs, locks, run_limit, attended } = one
    const body = { release_id, tags, asked, inputs, locks, run_limit, attended }
    return ask(
      api.POST('/api/v1/routines/takers', {
        body: { ...body, area_id: props.area.id, routine_id: routine.value },
      }),
    )
  },
})
const move = useAction(async () => {
  const { what, id } = chosen.value!
  await ask(
    api.POST('/api/v1/areas/{number}/here', {
      params: { path: path.value },
      body: { what: what as 'routine' | 'robot', id },
    }),
  )
  emit('leave')
})
const KIND: Record<string, string> = {
  routine: '/workshop/routines',
  robot: '/robots',
  release: '/workshop/releases',
}
</script>

<template>
  <section class="note stack tight">
    <Field
      v-slot="{ id }"
      :label="`What comes to ${area.name}?`"
      help="A routine, a robot or a release, by any part of its name."
    >
      <el-input :id="id" v-model="text" style="--chars: 34" />
    </Field>
    <table v-if="!chosen && found.data.value?.rows.length" class="ledger" aria-label="Found">
      <tbody>
        <tr v-for="one in found.data.value.rows" :key="`${one.what}-${one.id}`">
          <td style="width: 80px" class="quiet">{{ one.what }}</td>
          <td>
            <router-link :to="`${KIND[one.what]}/${one.id}`">{{ one.name }}</router-link>
            <span class="quiet"> {{ one.what === 'release' ? 'seen by' : 'in' }} {{ one.lies_in }}</span>
          </td>
          <td class="num">
            <el-button
              v-if="one.may_move"
              :aria-label="`Move it here: ${one.name}`"
              link
              type="primary"
              @click="chosen = one"
              >Move it here</el-button
            >
            <span v-else class="quiet">{{ one.is_here ? 'is here' : 'not yours to move' }}</span>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="!chosen && found.data.value" class="quiet">Nothing that you may see is called so.</p>
    <p v-if="!chosen && found.data.value?.more" class="quiet">
      {{ found.data.value.more }} more: type more of the name.
    </p>
    <template v-if="chosen">
      <p>
        <b>{{ chosen.name }}</b>: {{ chosen.lies_in }} → {{ area.name }}.
        {{
          chosen.what === 'robot'
            ? 'It takes work of this area and those below it alone from then on.'
            : 'Its closed days, secrets, and who may see it are those of this area from then on.'
        }}
      </p>
      <PreCheck
        v-if="there.data.value"
        short
        :named="`Pre-check in ${area.name}`"
        :needs="there.data.value.pre_check"
      />
      <p class="row">
        <el-button type="primary" :disabled="move.busy.value" @click="move.go()">Move it here</el-button>
        <el-button @click="chosen = null">Another one</el-button>
      </p>
    </template>
    <p v-else><el-button @click="emit('leave')">Cancel</el-button></p>
    <Problem :error="move.error.value ?? found.error.value ?? there.error.value" />
  </section>
</template>
