<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Choice from '@/shared/Choice.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import PersonField from '@/shared/PersonField.vue'
import { useMe } from '@/shared/session'
import { useDraft } from '@/shared/unsaved'
import WholeField from '@/shared/WholeField.vue'

/** Attended or builder seats for a person, or for a group whose members share them. */
const props = defineProps<{ kind: Schemas['SeatsOfKind']['kind']; holder?: Schemas['SeatHolder'] }>()
const emit = defineEmits<{ leave: [] }>()
const { may } = useMe()
const whom = ref<'person' | 'group'>(props.holder?.what === 'group' ? 'group' : 'person')
const person = ref<number | null>(props.holder?.what === 'person' ? props.holder.id : null)
const group = ref<number | null>(props.holder?.what === 'group' ? props.holder.id : null)
const number = ref<number | null>(props.holder?.number ?? 1)
const groups = useQuery({
  queryKey: ['groups'],
  enabled: () => may('person.see') && !props.holder,
  queryFn: () => ask(api.GET('/api/v1/access/groups')),
})
const choices = computed(() => (groups.data.value ?? []).map((one) => ({ value: one.id, words: one.name })))
const to = computed(() => (whom.value === 'person' ? person.value : group.value))
const give = useAction(async () => {
  const body = { kind: props.kind, whom: whom.value, holder_id: to.value!, number: number.value ?? 0 }
  await ask(api.PUT('/api/v1/seats/given', { body }))
  unsent.done()
  emit('leave')
})
const unsent = useDraft(
  'The seats given',
  () => `seats-given-${props.kind}-${props.holder?.what ?? 'new'}-${props.holder?.id ?? 0}`,
  { whom, person, group, number },
)
const wait = computed(() => {
  if (to.value === null) return whom.value === 'person' ? 'Say who has them.' : 'Say which group.'
  if (number.value === null) return 'Say how many.'
  return props.holder && number.value === props.holder.number ? 'That is as many as there are.' : ''
})
</script>

<template>
  <form class="note stack tight" @submit.prevent="give.go()">
    <h3>{{ props.holder ? `Seats of ${props.holder.name}` : `Give ${kind} seats` }}</h3>
    <div class="row top">
      <template v-if="!props.holder">
        <el-radio-group v-model="whom" aria-label="To whom">
          <el-radio value="person">a person</el-radio>
          <el-radio v-if="choices.length" value="group">a group, whose members share them</el-radio>
        </el-radio-group>
        <Field
          v-if="whom === 'person'"
          v-slot="{ id }"
          label="Person"
          :fault="faultOf(give.error.value, 'person_id')"
        >
          <PersonField :id="id" v-model="person" plain />
        </Field>
        <Field v-else v-slot="{ id }" label="Group" :fault="faultOf(give.error.value, 'group_id')">
          <Choice :id="id" v-model="group" :options="choices" placeholder="choose a group" />
        </Field>
      </template>
      <Field
        v-slot="{ id }"
        label="Seats"
        :help="props.holder ? '0 takes them away' : undefined"
        :fault="faultOf(give.error.value, 'number')"
      >
        <WholeField :id="id" v-model="number" :min="0" :max="10000" />
      </Field>
    </div>
    <FormEnd
      action="Keep the seats"
      leave="Cancel"
      :busy="give.busy.value"
      :error="give.error.value"
      :fields="['person_id', 'group_id', 'number']"
      :wait="wait"
      @leave="emit('leave')"
    />
  </form>
</template>
