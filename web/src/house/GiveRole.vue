<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'

/** Gives a role for the company or an area; says before what it allows, in words. */
const props = defineProps<{ person?: number; group?: number }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const role = ref<number | ''>('')
const area = ref<number | ''>('')
const roles = useQuery({ queryKey: ['access', 'roles'], queryFn: () => ask(api.GET('/api/v1/access/roles')) })
const areas = useQuery({ queryKey: ['robots', 'tree'], queryFn: () => ask(api.GET('/api/v1/areas')) })
const chosen = computed(() => roles.data.value?.roles.find((one) => one.id === role.value))
const companyOnly = computed(() => {
  const names = new Set(chosen.value?.company_only.map((one) => one.split('.')[0]))
  return (roles.data.value?.subjects ?? [])
    .filter((one) => names.has(one.name))
    .map((one) => one.title.toLowerCase())
    .join(', ')
})
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
  <form class="note stack tight" @submit.prevent="give.go()">
    <div class="row top">
      <Field v-slot="{ id }" label="Role" :fault="faultOf(give.error.value, 'role')"
        ><select :id="id" v-model="role">
          <option value="" disabled>choose</option>
          <option v-for="one in roles.data.value?.roles" :key="one.id" :value="one.id">{{ one.name }}</option>
        </select></Field
      >
      <Field v-slot="{ id }" label="For" :fault="faultOf(give.error.value, 'area')"
        ><select :id="id" v-model="area">
          <option value="">the whole company</option>
          <option v-for="one in areas.data.value?.areas" :key="one.id" :value="one.id">
            {{ one.name }} and below
          </option>
        </select></Field
      >
    </div>
    <div v-if="chosen" class="quiet">
      <p>It allows:</p>
      <p v-for="line in chosen.words" :key="line">{{ line }}</p>
      <p v-if="area && chosen.company_only.length" class="care">
        Not for an area, as it belongs to the whole company: {{ companyOnly }}.
      </p>
      <p v-for="words in chosen.breaches" :key="words" class="care">Mind: {{ words }}.</p>
    </div>
    <Problem :error="give.error.value" :fields="['role', 'area']" />
    <p class="row">
      <button class="filled" :disabled="give.busy.value || !role">Give the role</button>
      <button type="button" @click="emit('leave')">Leave it</button>
    </p>
  </form>
</template>

<style scoped>
.top {
  align-items: flex-start;
}
</style>
