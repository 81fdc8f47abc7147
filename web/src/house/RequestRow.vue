<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'

/** One request: the smallest role that gives what is asked is offered first. */
const props = defineProps<{ request: Schemas['RequestOut'] }>()
const role = ref<number | ''>('')
const area = ref<number | ''>(props.request.area_id ?? '')
const answer = ref('')
const roles = useQuery({ queryKey: ['access', 'roles'], queryFn: () => ask(api.GET('/api/v1/access/roles')) })
const areas = useQuery({ queryKey: ['robots', 'tree'], queryFn: () => ask(api.GET('/api/v1/areas')) })
const fitting = computed(() =>
  (roles.data.value?.roles ?? [])
    .filter((one) => !props.request.permission || one.permissions.includes(props.request.permission))
    .sort((one, other) => one.permissions.length - other.permissions.length),
)
watch(
  fitting,
  (now) => {
    if (role.value === '' && props.request.permission && now[0]) role.value = now[0].id
  },
  { immediate: true },
)
const chosen = computed(() => fitting.value.find((one) => one.id === role.value))
const words = computed(() =>
  roles.data.value?.subjects
    .flatMap((one) => one.acts)
    .find((act) => act.permission === props.request.permission),
)
const decide = useAction((grant: boolean) =>
  ask(
    api.POST('/api/v1/access/requests/{number}/decide', {
      params: { path: { number: props.request.id } },
      body: {
        role: grant ? Number(role.value) : null,
        area: grant ? area.value || null : null,
        answer: answer.value,
      },
    }),
  ),
)
</script>

<template>
  <section class="stack tight ask">
    <h2>
      <router-link :to="`/house/people/${request.person_id}`">{{ request.person }}</router-link>
      <span class="quiet"> <When :at="request.made_at" /></span>
    </h2>
    <p>“{{ request.words }}”</p>
    <p v-if="request.permission" class="quiet">
      Asks to {{ words?.words ?? request.permission }} ({{ request.permission }}){{
        request.area ? ` in ${request.area}` : ''
      }}.
    </p>
    <div class="row top">
      <Field v-slot="{ id }" label="Role" :fault="faultOf(decide.error.value, 'role')"
        ><select :id="id" v-model="role">
          <option value="" disabled>choose</option>
          <option v-for="one in fitting" :key="one.id" :value="one.id">{{ one.name }}</option>
        </select></Field
      >
      <Field v-slot="{ id }" label="For" :fault="faultOf(decide.error.value, 'area')"
        ><select :id="id" v-model="area">
          <option value="">the whole company</option>
          <option v-for="one in areas.data.value?.areas" :key="one.id" :value="one.id">
            {{ one.name }} and below
          </option>
        </select></Field
      >
      <Field
        v-slot="{ id }"
        label="Answer"
        help="needed to refuse"
        :fault="faultOf(decide.error.value, 'answer')"
        ><input :id="id" v-model="answer" type="text" size="36"
      /></Field>
    </div>
    <p v-if="chosen" class="quiet">The role allows: {{ chosen.words.join('. ') }}.</p>
    <Problem :error="decide.error.value" :fields="['role', 'area', 'answer']" />
    <p class="row">
      <button class="filled" :disabled="decide.busy.value || !role" @click="decide.go(true)">Give it</button>
      <button :disabled="decide.busy.value || !answer.trim()" @click="decide.go(false)">Refuse</button>
    </p>
  </section>
</template>

<style scoped>
.ask {
  border-bottom: 1px solid var(--hair);
  padding-bottom: 16px;
}
.top {
  align-items: flex-start;
}
</style>
