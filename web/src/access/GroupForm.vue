<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import PersonField from '@/shared/PersonField.vue'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import HeldRoles from './HeldRoles.vue'

/** A group's name and who is in it; nothing is kept before the button. */
const props = defineProps<{ group?: number }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const { may } = useMe()
const name = ref('')
const about = ref('')
const claim = ref('')
const members = ref<{ id: number; name: string; by_claim: boolean }[]>([])
const picked = ref<number | null>(null)
const version = ref(0)
const kept = useQuery({
  queryKey: ['access', 'group', props.group],
  queryFn: () =>
    ask(api.GET('/api/v1/access/groups/{number}', { params: { path: { number: props.group ?? 0 } } })),
  enabled: props.group !== undefined,
})
const directory = useQuery({
  queryKey: ['people', 'directory'],
  queryFn: () => ask(api.GET('/api/v1/people')),
  staleTime: 60_000,
})
watch(
  kept.data,
  (now) => {
    if (!now || version.value) return
    name.value = now.name
    about.value = now.about
    claim.value = now.claim ?? ''
    members.value = [...now.people]
    version.value = now.version
  },
  { immediate: true },
)
watch([picked, directory.data], () => {
  const one = directory.data.value?.find((person) => person.id === picked.value)
  if (!one) return
  if (!members.value.some((member) => member.id === one.id))
    members.value.push({ id: one.id, name: one.name, by_claim: false })
  picked.value = null
})
const body = computed(() => ({
  name: name.value,
  about: about.value,
  claim: claim.value,
  people: members.value.map((one) => one.id),
}))
const save = useAction(async () => {
  if (props.group === undefined) await ask(api.POST('/api/v1/access/groups', { body: body.value }))
  else
    await ask(
      api.PUT('/api/v1/access/groups/{number}', {
        params: { path: { number: props.group }, header: { 'if-match': `"${version.value}"` } },
        body: body.value,
      }),
    )
  emit('done')
})
const retire = useAction(async () => {
  await ask(api.DELETE('/api/v1/access/groups/{number}', { params: { path: { number: props.group ?? 0 } } }))
  emit('done')
})
</script>

<template>
  <form class="note stack tight" @submit.prevent="save.go()">
    <div class="row top">
      <Field v-slot="{ id }" label="Name of the group" :fault="faultOf(save.error.value, 'name')"
        ><el-input :id="id" v-model="name"
      /></Field>
      <Field v-slot="{ id }" label="What it is for" :fault="faultOf(save.error.value, 'about')"
        ><el-input :id="id" v-model="about" style="--chars: 36"
      /></Field>
      <Field
        v-slot="{ id }"
        label="Follows the claim"
        help="of single sign-on; may stay empty"
        :fault="faultOf(save.error.value, 'claim')"
        ><el-input :id="id" v-model="claim" style="--chars: 22"
      /></Field>
    </div>
    <p>
      <template v-if="!members.length"><span class="quiet">Nobody is in it yet.</span></template>
      <span v-for="one in members" :key="one.id" class="member">
        {{ one.name }}
        <span v-if="one.by_claim" class="quiet">by claim</span>
        <el-button
          v-else-if="may('person.change')"
          :aria-label="`Take ${one.name} out`"
          link
          type="primary"
          @click="members = members.filter((member) => member.id !== one.id)"
        >
          take out
        </el-button>
      </span>
    </p>
    <template v-if="may('person.change')">
      <PersonField v-model="picked" :but="members.map((one) => one.id)" label="Add to the group" />
      <Problem :error="save.error.value ?? retire.error.value" :fields="['name', 'about', 'claim']" />
      <p class="row">
        <el-button :disabled="save.busy.value" type="primary" native-type="submit">Keep it</el-button>
        <el-button @click="emit('leave')">Leave it</el-button>
        <el-button v-if="group" link type="primary" @click="retire.go()">Take out of use</el-button>
      </p>
    </template>
  </form>
  <HeldRoles v-if="group && may('role.see')" class="note" :group="group" title="Roles the group holds">
    None yet. Give it one, and everybody in it holds it.
  </HeldRoles>
</template>

<style scoped>
.top {
  align-items: flex-start;
}
.member {
  display: inline-flex;
  gap: 6px;
  margin-right: 14px;
}
</style>
