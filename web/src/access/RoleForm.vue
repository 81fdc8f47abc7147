<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { useSeen } from '@/shared/useSeen'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'

/** An own role: ticks by subject and act, with what they allow in words beside. */
const props = defineProps<{
  role: Schemas['RoleOut']
  copy: boolean
  subjects: Schemas['SubjectOut'][]
  duties: Schemas['DutyOut'][]
}>()
const emit = defineEmits<{ done: []; leave: [] }>()
const ACTS = ['see', 'make', 'change', 'decide', 'retire']
const name = ref(props.copy ? `${props.role.name}, own` : props.role.name)
const about = ref(props.copy ? '' : props.role.about)
const factor = ref(props.role.second_factor)
const ticked = ref(new Set(props.role.permissions))
const actOf = (subject: Schemas['SubjectOut'], act: string) => subject.acts.find((one) => one.act === act)
function tick(permission: string, on: boolean) {
  const now = new Set(ticked.value)
  if (on) now.add(permission)
  else now.delete(permission)
  ticked.value = now
}
const words = computed(() =>
  props.subjects
    .map((subject) => {
      const acts = subject.acts.filter((act) => ticked.value.has(act.permission))
      return acts.length ? `${subject.title}: ${acts.map((act) => act.words).join('; ')}` : ''
    })
    .filter(Boolean),
)
const breaches = computed(() =>
  props.duties
    .filter((duty) => ticked.value.has(duty.one) && ticked.value.has(duty.other))
    .map((duty) => duty.words),
)
const save = useAction(async () => {
  const body = {
    name: name.value,
    about: about.value,
    permissions: [...ticked.value],
    second_factor: factor.value,
    copied_from: props.copy ? props.role.name : '',
  }
  if (props.copy) await ask(api.POST('/api/v1/access/roles', { body }))
  else
    await ask(
      api.PUT('/api/v1/access/roles/{number}', {
        params: { path: { number: props.role.id }, header: { 'if-match': `"${seen.value}"` } },
        body,
      }),
    )
  emit('done')
})
const seen = useSeen(() => props.role.version, save.error)
</script>

<template>
  <form class="stack" @submit.prevent="save.go()">
    <h2>{{ copy ? `A copy of ${role.name}` : `Change ${role.name}` }}</h2>
    <div class="row top">
      <Field v-slot="{ id }" label="Name of the role" :fault="faultOf(save.error.value, 'name')"
        ><el-input :id="id" v-model="name"
      /></Field>
      <Field v-slot="{ id }" label="What it is for" :fault="faultOf(save.error.value, 'about')"
        ><el-input :id="id" v-model="about" style="--chars: 40"
      /></Field>
    </div>
    <el-checkbox v-model="factor">Who holds it needs a second factor to sign in with a password</el-checkbox>
    <div class="two">
      <table class="ledger">
        <thead>
          <tr>
            <th>About</th>
            <th v-for="act in ACTS" :key="act" class="act">{{ act }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="subject in subjects" :key="subject.name">
            <td>{{ subject.title }}</td>
            <td v-for="act in ACTS" :key="act" class="act">
              <el-checkbox
                v-if="actOf(subject, act)"
                :model-value="ticked.has(actOf(subject, act)?.permission ?? '')"
                :disabled="actOf(subject, act)?.permission === 'idea.make'"
                :aria-label="actOf(subject, act)?.words"
                :title="actOf(subject, act)?.words"
                @change="(on: unknown) => tick(actOf(subject, act)?.permission ?? '', on === true)"
              />
            </td>
          </tr>
        </tbody>
      </table>
      <div class="stack tight">
        <p v-for="why in breaches" :key="why" class="note care">
          This defeats a separation of duties: {{ why }}.
        </p>
        <h3>What this allows</h3>
        <p v-for="line in words" :key="line" class="quiet">{{ line }}</p>
      </div>
    </div>
    <Problem :error="save.error.value" :fields="['name', 'about']" />
    <p class="row">
      <el-button :disabled="save.busy.value" type="primary" native-type="submit"
        >{{ copy ? 'Make the role' : 'Keep the changes' }}
      </el-button>
      <el-button @click="emit('leave')">Leave it</el-button>
    </p>
  </form>
</template>

<style scoped>
.top {
  align-items: flex-start;
}
.act {
  text-align: center;
  width: 52px;
}
</style>
