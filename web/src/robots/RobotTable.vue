<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAddressed } from '@/shared/address'
import { several } from '@/shared/format'
import { later } from '@/shared/later'

const RobotForm = later(() => import('./RobotForm.vue'))
const Retire = later(() => import('@/shared/Retire.vue'))

/** Robots: on which host, what each does now and can do, and where it may work. */
const props = defineProps<{
  robots: Schemas['Robot'][]
  hosts: Schemas['Host'][]
  areas: Schemas['AreaBelow'][]
}>()
const shown = useAddressed('robot')
const changing = ref<Schemas['Robot'] | null>(null)
const retiring = ref<Schemas['Robot'] | null>(null)
const acts = computed(() => props.robots.some((robot) => robot.may_change || robot.may_retire))
const path = (robot: Schemas['Robot']) => ({ params: { path: { number: robot.id } } })
</script>

<template>
  <table class="ledger stacks">
    <thead>
      <tr>
        <th>Robot</th>
        <th>Works now</th>
        <th>Tags</th>
        <th>Allowed in</th>
        <th v-if="acts"></th>
      </tr>
    </thead>
    <tbody>
      <template v-for="robot in robots" :key="robot.id">
        <tr :class="{ open: robot.id === shown }" :data-spot="robot.id === shown">
          <td>
            <router-link :to="`/robots/${robot.id}`"
              ><b>{{ robot.name }}</b></router-link
            >
            <div class="quiet">
              on {{ robot.host }}<template v-if="robot.account"> as {{ robot.account }}</template>
            </div>
            <div v-if="robot.as_runner" class="care">
              its packages work as the runner itself and can read the host's token
            </div>
          </td>
          <td>
            <router-link v-if="robot.busy_with" :to="`/runs/${robot.busy_with}`"
              >R-{{ robot.busy_with }}</router-link
            >
            <span v-else-if="!robot.lacks.length" class="quiet">free</span>
            <template v-else>
              <router-link :to="`/robots/${robot.id}`">{{
                several(robot.lacks.length, 'point open', 'points open')
              }}</router-link>
              <div class="care">lacking: {{ robot.lacks[0] }}</div>
            </template>
          </td>
          <td>{{ robot.tags.join(', ') || '–' }}</td>
          <td>
            {{ robot.areas.map((area) => area.name).join(', ') || '' }}
            <template v-if="!robot.areas.length">
              <span v-if="robot.owner" class="quiet">for {{ robot.owner }} alone</span>
              <span v-else class="care">nowhere, so it gets no work</span>
            </template>
          </td>
          <td v-if="acts" class="num whole">
            <span class="row acts">
              <el-button
                v-if="robot.may_change"
                link
                type="primary"
                :aria-label="`Change ${robot.name}`"
                @click="changing = robot"
                >Change</el-button
              >
              <el-button
                v-if="robot.may_retire"
                link
                type="danger"
                :aria-label="`Retire ${robot.name}`"
                @click="retiring = robot"
                >Retire</el-button
              ></span
            >
          </td>
        </tr>
        <tr v-if="changing?.id === robot.id">
          <td colspan="5">
            <RobotForm :robot="changing" :hosts="hosts" :areas="areas" @leave="changing = null" />
          </td>
        </tr>
      </template>
    </tbody>
  </table>
  <Retire
    v-if="retiring"
    subject="robots"
    :number="retiring.id"
    :name="retiring.name"
    :look="() => ask(api.GET('/api/v1/robots/{number}/retiring', path(retiring!)))"
    :act="() => ask(api.POST('/api/v1/robots/{number}/retire', path(retiring!)))"
    @leave="retiring = null"
  />
</template>

<style scoped>
.acts {
  justify-content: flex-end;
  gap: 12px;
}
</style>
