<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, watch } from 'vue'
import { api, ask } from '@/api/client'
import { faultOf } from '@/shared/faults'
import AreaField from './AreaField.vue'
import Choice from './Choice.vue'
import Field from './Field.vue'
import { useMe } from './session'

/** Which role, and for the company or which area; with what that allows, in words. */
const props = defineProps<{
  error: unknown
  // Roles that allow this, the smallest first and chosen.
  permission?: string
  // Choosing none is an answer as well.
  none?: boolean
}>()
const { everywhere } = useMe()
const role = defineModel<number | null>('role', { required: true })
const area = defineModel<number | null>('area', { required: true })
const roles = useQuery({ queryKey: ['access', 'roles'], queryFn: () => ask(api.GET('/api/v1/access/roles')) })
const fitting = computed(() => {
  const all = roles.data.value?.roles ?? []
  const wanted = props.permission
  if (!wanted) return all
  return all
    .filter((one) => one.permissions.includes(wanted))
    .sort((one, other) => one.permissions.length - other.permissions.length)
})
watch(
  fitting,
  (now) => {
    if (role.value === null && props.permission && now[0]) role.value = now[0].id
  },
  { immediate: true },
)
const chosen = computed(() => fitting.value.find((one) => one.id === role.value))
const companyOnly = computed(() => {
  const names = new Set(chosen.value?.company_only.map((one) => one.split('.')[0]))
  return (roles.data.value?.subjects ?? [])
    .filter((one) => names.has(one.name))
    .map((one) => one.title.toLowerCase())
    .join(', ')
})
</script>

<template>
  <div class="stack tight">
    <div class="row top">
      <Field v-slot="{ id }" :label="none ? 'Role, if any' : 'Role'" :fault="faultOf(error, 'role')"
        ><Choice
          :id="id"
          v-model="role"
          :options="fitting.map((one) => ({ value: one.id, words: one.name }))"
          :nothing="none ? 'none yet' : undefined"
      /></Field>
      <Field
        v-if="role || !none"
        v-slot="{ id }"
        label="For"
        help="an area counts with all below it"
        :fault="faultOf(error, 'area')"
        ><AreaField
          :id="id"
          v-model="area"
          :nothing="everywhere('role.decide') ? 'the whole company' : undefined"
      /></Field>
      <slot />
    </div>
    <div v-if="chosen" class="quiet">
      <p>It allows:</p>
      <p v-for="line in chosen.words" :key="line">{{ line }}</p>
      <p v-if="area && chosen.company_only.length" class="care">
        Not for an area, as it belongs to the whole company: {{ companyOnly }}.
      </p>
      <p v-for="words in chosen.breaches" :key="words" class="care">Mind: {{ words }}.</p>
    </div>
  </div>
</template>
