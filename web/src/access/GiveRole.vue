<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import PersonField from '@/shared/PersonField.vue'
import FormEnd from '@/shared/FormEnd.vue'
import RoleAndArea from '@/shared/RoleAndArea.vue'

/** Gives a role to a person or a group, for the company or an area; to whom is asked where it is not known. */
const props = defineProps<{ person?: number; group?: number; role?: number }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const role = ref<number | null>(props.role ?? null)
const picked = ref<number | null>(null)
const asks = computed(() => props.person === undefined && props.group === undefined)
const area = ref<number | null>(null)
const give = useAction(async () => {
  await ask(
    api.POST('/api/v1/access/holders', {
      body: {
        role: Number(role.value),
        area: area.value || null,
        person: props.person ?? picked.value,
        group: props.group ?? null,
      },
    }),
  )
  emit('done')
})
</script>

<template>
  <form class="note stack tight" @submit.prevent.stop="give.go()">
    <Field v-if="asks" v-slot="{ id }" label="Who gets it" :fault="faultOf(give.error.value, 'person')">
      <PersonField :id="id" v-model="picked" label="Who gets it" />
    </Field>
    <RoleAndArea v-model:role="role" v-model:area="area" :error="give.error.value" />
    <FormEnd
      action="Give the role"
      :busy="give.busy.value"
      :error="give.error.value"
      :fields="['role', 'area', 'person']"
      :wait="!role ? 'Choose the role first.' : asks && !picked ? 'Choose the person first.' : ''"
      leave="Cancel"
      @leave="emit('leave')"
    />
  </form>
</template>
