<script setup lang="ts">
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import Problem from '@/shared/Problem.vue'
import RoleAndArea from '@/shared/RoleAndArea.vue'

/** Gives a role to a person or a group, for the company or an area. */
const props = defineProps<{ person?: number; group?: number }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const role = ref<number | null>(null)
const area = ref<number | null>(null)
const give = useAction(async () => {
  await ask(
    api.POST('/api/v1/access/holders', {
      body: {
        role: Number(role.value),
        area: area.value || null,
        person: props.person ?? null,
        group: props.group ?? null,
      },
    }),
  )
  emit('done')
})
</script>

<template>
  <form class="note stack tight" @submit.prevent.stop="give.go()">
    <RoleAndArea v-model:role="role" v-model:area="area" :error="give.error.value" />
    <Problem :error="give.error.value" :fields="['role', 'area']" />
    <p class="row">
      <el-button :disabled="give.busy.value || !role" type="primary" native-type="submit"
        >Give the role</el-button
      >
      <el-button @click="emit('leave')">Cancel</el-button>
    </p>
  </form>
</template>
