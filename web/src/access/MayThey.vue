<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import Glyph from '@/shared/Glyph.vue'
import Problem from '@/shared/Problem.vue'
import WholeField from '@/shared/WholeField.vue'
import Choice from '@/shared/Choice.vue'

/** May they, and why: by which role, group and area, or what is missing and who can give it. */
const props = defineProps<{ person: number; name: string }>()
const permission = ref('routine.see')
const subject = ref<'' | 'idea' | 'routine' | 'run' | 'area'>('')
const SUBJECTS = [
  { value: 'idea', words: 'the idea I-' },
  { value: 'routine', words: 'the routine number' },
  { value: 'run', words: 'the run R-' },
  { value: 'area', words: 'the area number' },
] as const
const number = ref<number | null>(null)
const roles = useQuery({ queryKey: ['access', 'roles'], queryFn: () => ask(api.GET('/api/v1/access/roles')) })
const permissions = computed(() =>
  (roles.data.value?.subjects ?? []).flatMap((one) =>
    one.acts.map((act) => ({ value: act.permission, words: `${one.title}: ${act.words}` })),
  ),
)
const wanted = computed(() => (subject.value && number.value ? subject.value : undefined))
const answer = useQuery({
  queryKey: ['access', 'why', props.person, permission, wanted, number],
  queryFn: () =>
    ask(
      api.GET('/api/v1/access/why', {
        params: {
          query: {
            person: props.person,
            permission: permission.value,
            subject: wanted.value ?? null,
            number: wanted.value ? Number(number.value) : null,
          },
        },
      }),
    ),
})
const found = computed(() => answer.data.value)
const by = (one: { role: string; group: string | null; where: string }) =>
  `the role ${one.role} for ${one.where}${one.group ? `, by the group ${one.group}` : ''}`
</script>

<template>
  <section class="stack tight">
    <h2>May they, and why</h2>
    <div class="row">
      <label>
        <span class="quiet">May {{ name }}</span>
        <Choice v-model="permission" :options="permissions" />
      </label>
      <label>
        <span class="quiet">of</span>
        <Choice v-model="subject" :options="SUBJECTS" nothing="anything anywhere" none="" />
      </label>
      <WholeField v-if="subject" v-model="number" :min="1" label="Its number" />
    </div>
    <Problem :error="answer.error.value" />
    <div v-if="found" class="note" :class="{ care: !found.may }" role="status">
      <p>
        <Glyph bare :state="found.may ? 'met' : 'unmet'" />
        <b>{{ found.may ? 'Yes' : 'No' }}</b>, {{ found.person }} may {{ found.may ? '' : 'not '
        }}{{ found.words }}: {{ found.object }}.
      </p>
      <p v-for="one in found.granted" :key="by(one)">By {{ by(one) }}.</p>
      <p v-for="one in found.parts" :key="one">{{ found.person }} {{ one }}.</p>
      <p v-if="found.state !== 'active'">{{ found.person }} is {{ found.state }}, so nothing counts now.</p>
      <template v-if="!found.may">
        <p v-for="one in found.elsewhere" :key="by(one)" class="quiet">
          {{ by(one) }} holds {{ found.permission }}, but does not reach it.
        </p>
        <p>
          {{ found.permission }} is missing. It comes with {{ found.roles_with.join(', ') || 'no role yet' }};
          {{ found.givers.join(' or ') || 'nobody' }} can give it.
        </p>
      </template>
    </div>
  </section>
</template>

<style scoped>
label {
  display: flex;
  gap: 6px;
  align-items: center;
}
</style>
