<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import PersonField from '@/shared/PersonField.vue'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import { usePeople } from '@/shared/people'
import Problem from '@/shared/Problem.vue'
import HeldRoles from './HeldRoles.vue'
import FormSheet from '@/shared/FormSheet.vue'
import { useEdit } from '@/shared/useEdit'

/** A group's name and who is in it; nothing is kept before the button. */
const props = defineProps<{ group?: number }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const { may } = useMe()
interface Member {
  id: number
  name: string
  by_claim: boolean
}
const picked = ref<number | null>(null)
const kept = useQuery({
  queryKey: ['access', 'group', props.group],
  queryFn: () =>
    ask(api.GET('/api/v1/access/groups/{number}', { params: { path: { number: props.group ?? 0 } } })),
  enabled: props.group !== undefined,
})
const { people } = usePeople(() => [picked.value])
function given() {
  if (props.group === undefined) return { name: '', about: '', claim: '', members: [] as Member[] }
  const now = kept.data.value
  return now && { name: now.name, about: now.about, claim: now.claim ?? '', members: now.people as Member[] }
}
const edit = useEdit(
  given,
  ({ members, ...rest }, version) => {
    const body = { ...rest, people: members.map((one) => one.id) }
    if (props.group === undefined) return ask(api.POST('/api/v1/access/groups', { body }))
    const params = { path: { number: props.group }, header: { 'if-match': `"${version}"` } }
    return ask(api.PUT('/api/v1/access/groups/{number}', { params, body }))
  },
  {
    what: 'The group',
    place: () => `group-${props.group ?? 0}`,
    version: () => kept.data.value?.version,
    after: () => emit('done'),
  },
)
const { fields, ready, save } = edit
watch([picked, people], () => {
  const one = people.value.find((person) => person.id === picked.value)
  if (!one) return
  if (!fields.value.members.some((member) => member.id === one.id))
    fields.value.members.push({ id: one.id, name: one.name, by_claim: false })
  picked.value = null
})
const retire = useAction(async () => {
  await ask(api.DELETE('/api/v1/access/groups/{number}', { params: { path: { number: props.group ?? 0 } } }))
  emit('done')
})
</script>

<template>
  <FormSheet
    v-if="ready"
    :edit="edit"
    action="Keep it"
    leave="Cancel"
    :fields="['name', 'about', 'claim']"
    :wait="may('person.change') ? '' : 'You may look at groups and not change them.'"
    @leave="emit('leave')"
  >
    <div class="row top">
      <Field v-slot="{ id }" label="Name of the group" :fault="faultOf(save.error.value, 'name')"
        ><el-input :id="id" v-model="fields.name"
      /></Field>
      <Field v-slot="{ id }" label="What it is for" :fault="faultOf(save.error.value, 'about')"
        ><el-input :id="id" v-model="fields.about" style="--chars: 36"
      /></Field>
      <Field
        v-slot="{ id }"
        label="Follows the claim"
        help="of single sign-on; may stay empty"
        :fault="faultOf(save.error.value, 'claim')"
        ><el-input :id="id" v-model="fields.claim" style="--chars: 22"
      /></Field>
    </div>
    <p>
      <span v-if="!fields.members.length" class="quiet">Nobody is in it yet.</span>
      <span v-for="one in fields.members" :key="one.id" class="member">
        {{ one.name }}
        <span v-if="one.by_claim" class="quiet">by claim</span>
        <el-button
          v-else-if="may('person.change')"
          :aria-label="`Take ${one.name} out`"
          link
          type="primary"
          @click="fields.members = fields.members.filter((member) => member.id !== one.id)"
        >
          take out
        </el-button>
      </span>
    </p>
    <PersonField
      v-if="may('person.change')"
      v-model="picked"
      :but="fields.members.map((one) => one.id)"
      label="Add to the group"
    />
    <Problem :error="retire.error.value" />
    <template #more>
      <el-button v-if="group && may('person.change')" link type="primary" @click="retire.go()">
        Take out of use
      </el-button>
    </template>
  </FormSheet>
  <HeldRoles v-if="group && may('role.see')" class="note" :group="group" title="Roles the group holds">
    None yet. Give it one, and everybody in it holds it.
  </HeldRoles>
</template>

<style scoped>
.member {
  display: inline-flex;
  gap: 6px;
  margin-right: 14px;
}
</style>
