<script setup lang="ts">
import { computed } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useEdit } from '@/shared/useEdit'
import FormSheet from '@/shared/FormSheet.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'

/** An own role: ticks by subject and act, with what they allow in words beside. */
const props = defineProps<{
  role: Schemas['RoleOut']
  copy: boolean
  subjects: Schemas['SubjectOut'][]
  duties: Schemas['DutyOut'][]
}>()
const emit = defineEmits<{ done: []; leave: [] }>()
const ACTS = ['see', 'make', 'change', 'decide', 'retire']
const edit = useEdit(
  () => ({
    name: props.copy ? `${props.role.name}, own` : props.role.name,
    about: props.copy ? '' : props.role.about,
    second_factor: props.role.second_factor,
    permissions: [...props.role.permissions].sort(),
  }),
  (fields, version) => {
    const body = { ...fields, copied_from: props.copy ? props.role.name : '' }
    if (props.copy) return ask(api.POST('/api/v1/access/roles', { body }))
    const params = { path: { number: props.role.id }, header: { 'if-match': `"${version}"` } }
    return ask(api.PUT('/api/v1/access/roles/{number}', { params, body }))
  },
  {
    what: 'The role',
    place: () => `role-${props.copy ? 'copy-' : ''}${props.role.id}`,
    version: () => props.role.version,
    after: () => emit('done'),
  },
)
const { fields, save } = edit
const ticked = computed(() => new Set(fields.value.permissions))
const actOf = (subject: Schemas['SubjectOut'], act: string) => subject.acts.find((one) => one.act === act)
function tick(permission: string, on: boolean) {
  const now = new Set(ticked.value)
  if (on) now.add(permission)
  else now.delete(permission)
  fields.value.permissions = [...now].sort()
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
</script>

<template>
  <FormSheet
    :edit="edit"
    :title="copy ? `A copy of ${role.name}` : `Change ${role.name}`"
    :action="copy ? 'Make the role' : 'Keep the changes'"
    leave="Cancel"
    :fields="['name', 'about']"
    :names="{ second_factor: 'Second factor', permissions: 'What it allows', about: 'What it is for' }"
    @leave="emit('leave')"
  >
    <div class="row top">
      <Field v-slot="{ id }" label="Name of the role" :fault="faultOf(save.error.value, 'name')"
        ><el-input :id="id" v-model="fields.name"
      /></Field>
      <Field v-slot="{ id }" label="What it is for" :fault="faultOf(save.error.value, 'about')"
        ><el-input :id="id" v-model="fields.about" style="--chars: 40"
      /></Field>
    </div>
    <el-checkbox v-model="fields.second_factor"
      >Who holds it needs a second factor to sign in with a password</el-checkbox
    >
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
  </FormSheet>
</template>

<style scoped>
.act {
  text-align: center;
  width: 52px;
}
</style>
