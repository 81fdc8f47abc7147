<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import { useAction } from '@/shared/action'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import GiveRole from './GiveRole.vue'

/** The roles that a person or a group holds; given and taken away here. */
const props = defineProps<{ person?: number; group?: number; title: string; fixed?: boolean }>()
const { may } = useMe()
const giving = ref(false)
const holders = useQuery({
  queryKey: ['access', 'holders'],
  queryFn: () => ask(api.GET('/api/v1/access/holders')),
  enabled: computed(() => may('role.see')),
})
const held = computed(() =>
  (holders.data.value ?? []).filter((one) =>
    props.group === undefined ? one.person_id === props.person : one.group_id === props.group,
  ),
)
const take = useAction((id: number) =>
  ask(api.DELETE('/api/v1/access/holders/{number}', { params: { path: { number: id } } })),
)
</script>

<template>
  <section class="stack tight">
    <div class="spread">
      <h2>{{ title }}</h2>
      <el-button v-if="may('role.decide') && !fixed" @click="giving = !giving">Give a role</el-button>
    </div>
    <GiveRole v-if="giving" :person="person" :group="group" @done="giving = false" @leave="giving = false" />
    <p v-if="!held.length" class="note"><slot /></p>
    <table v-else class="ledger">
      <tbody>
        <tr v-for="one in held" :key="one.id">
          <td>
            <b>{{ one.role }}</b> for {{ one.where }}
          </td>
          <td class="quiet">
            <template v-if="one.given_by">given by {{ one.given_by }}, <When :at="one.at" /></template>
          </td>
          <td class="num">
            <el-button
              v-if="one.may_take"
              :disabled="take.busy.value"
              link
              type="primary"
              @click="take.go(one.id)"
            >
              Take away
            </el-button>
          </td>
        </tr>
      </tbody>
    </table>
    <Problem :error="take.error.value" />
  </section>
</template>
