<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import RoleAndArea from '@/shared/RoleAndArea.vue'
import { useDraft } from '@/shared/unsaved'

/** One request: the smallest role that gives what is asked is offered first. */
const props = defineProps<{ request: Schemas['RequestOut'] }>()
const role = ref<number | null>(null)
const area = ref<number | null>(props.request.area_id ?? null)
const answer = ref('')
const roles = useQuery({ queryKey: ['access', 'roles'], queryFn: () => ask(api.GET('/api/v1/access/roles')) })
const words = computed(() =>
  roles.data.value?.subjects
    .flatMap((one) => one.acts)
    .find((act) => act.permission === props.request.permission),
)
const decide = useAction(async (grant: boolean) => {
  await ask(
    api.POST('/api/v1/access/requests/{number}/decide', {
      params: { path: { number: props.request.id } },
      body: {
        role: grant ? Number(role.value) : null,
        area: grant ? area.value || null : null,
        answer: answer.value,
      },
    }),
  )
  unsent.done()
})
const unsent = useDraft('Your answer', () => `request-${props.request.id}`, { answer, role, area })
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
    <RoleAndArea
      v-model:role="role"
      v-model:area="area"
      :error="decide.error.value"
      :permission="request.permission || undefined"
    >
      <Field
        v-slot="{ id }"
        label="Answer"
        help="needed to refuse"
        :fault="faultOf(decide.error.value, 'answer')"
        ><el-input :id="id" v-model="answer" style="--chars: 36"
      /></Field>
    </RoleAndArea>
    <Problem :error="decide.error.value" :fields="['role', 'area', 'answer']" />
    <p class="row">
      <el-button :disabled="decide.busy.value || !role" type="primary" @click="decide.go(true)"
        >Give it</el-button
      >
      <el-button :disabled="decide.busy.value || !answer.trim()" @click="decide.go(false)">Refuse</el-button>
    </p>
  </section>
</template>

<style scoped>
.ask {
  border-bottom: 1px solid var(--hair);
  padding-bottom: 16px;
}
</style>
