<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import PersonField from '@/shared/PersonField.vue'
import { useAction } from '@/shared/action'
import Problem from '@/shared/Problem.vue'
import { several } from '@/shared/format'

/** Shows what somebody leaves open before they are deactivated, and hands it over. */
const props = defineProps<{ person: number }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const heir = ref<number | null>(null)
const query = useQuery({
  queryKey: ['people', 'leaving', props.person],
  queryFn: () =>
    ask(api.GET('/api/v1/people/{number}/leaving', { params: { path: { number: props.person } } })),
})
const open = computed(() => query.data.value?.work ?? [])
const pages = computed(() => query.data.value?.pages ?? [])
const needed = computed(() => open.value.some((one) => one.hands_over) || pages.value.length > 0)
const go = useAction(async () => {
  await ask(
    api.POST('/api/v1/people/{number}/leaving', {
      params: { path: { number: props.person } },
      body: { to: heir.value },
    }),
  )
  emit('done')
})
</script>

<template>
  <div v-if="query.data.value" class="note stack tight">
    <h2>Before {{ query.data.value.name }} is deactivated</h2>
    <p v-if="!open.length && !pages.length">There is no open work.</p>
    <table v-if="open.length" class="ledger">
      <tbody>
        <tr v-for="one in open" :key="one.words + one.id">
          <td>{{ one.words }}</td>
          <td>
            <router-link :to="`/ideas/${one.id}`">I-{{ one.id }} {{ one.title }}</router-link>
          </td>
          <td class="quiet">{{ one.stage }}{{ one.hands_over ? '' : ', stays with their name' }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="pages.length">
      They look after {{ several(pages.length, 'self-service page', 'self-service pages') }}:
      {{ pages.join(', ') }}.
    </p>
    <template v-if="needed">
      <p>Who takes it over?</p>
      <PersonField v-model="heir" :but="[person]" label="Who takes it over" />
    </template>
    <p class="quiet">
      {{
        query.data.value.sessions
          ? `${several(query.data.value.sessions, 'open sign-in ends', 'open sign-ins end')}.`
          : 'No sign-in is open.'
      }}
      <template v-if="query.data.value.roles.length">
        {{ several(query.data.value.roles.length, 'role is taken away', 'roles are taken away') }}:
        {{ query.data.value.roles.join(', ') }}.
      </template>
      {{ query.data.value.groups.length ? `They leave ${query.data.value.groups.join(', ')}.` : '' }}
      What they did stays under their name.
    </p>
    <Problem :error="go.error.value ?? query.error.value" />
    <p class="row">
      <el-button :disabled="go.busy.value || (needed && !heir)" type="primary" @click="go.go()">
        Deactivate
      </el-button>
      <el-button @click="emit('leave')">Cancel</el-button>
    </p>
  </div>
</template>
