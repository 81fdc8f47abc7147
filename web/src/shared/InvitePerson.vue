<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import RoleAndArea from '@/shared/RoleAndArea.vue'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'

/** Invites somebody by mail, where one stands; who gives roles can give one at once. */
const props = defineProps<{ name?: string }>()
const emit = defineEmits<{ done: [id: number]; leave: [] }>()
const { may } = useMe()
const email = ref('')
const name = ref(props.name ?? '')
const role = ref<number | null>(null)
const area = ref<number | null>(null)
const giving = computed(() => may('role.decide'))
const invite = useAction(async () => {
  const made = await ask(
    api.POST('/api/v1/people/invitations', {
      body: {
        email: email.value,
        name: name.value,
        role: role.value || null,
        area: (role.value && area.value) || null,
      },
    }),
  )
  unsent.done()
  emit('done', made.id)
})
const unsent = useDraft('The invitation', () => 'invite', { email, name, role, area })
</script>

<template>
  <form class="note stack tight" @submit.prevent.stop="invite.go()">
    <DraftNote :draft="unsent" />
    <h3>Invite somebody</h3>
    <p class="quiet">
      They get a mail with a link that works for seven days, and can be picked at once. Everybody who accepts
      may hand in ideas.
    </p>
    <div class="row top">
      <Field v-slot="{ id }" label="Name" :fault="faultOf(invite.error.value, 'name')"
        ><el-input :id="id" v-model="name" style="--chars: 24"
      /></Field>
      <Field v-slot="{ id }" label="Mail address" :fault="faultOf(invite.error.value, 'email')"
        ><el-input :id="id" v-model="email" type="email" style="--chars: 30"
      /></Field>
    </div>
    <RoleAndArea v-if="giving" v-model:role="role" v-model:area="area" :error="invite.error.value" none />
    <FormEnd
      action="Send the invitation"
      :busy="invite.busy.value"
      :error="invite.error.value"
      :fields="['name', 'email', 'role', 'area']"
      leave="Cancel"
      @leave="emit('leave')"
    />
  </form>
</template>
