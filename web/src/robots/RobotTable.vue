<script setup lang="ts">
import { ref } from 'vue'
import type { Schemas } from '@/api/client'
import { useAddressed } from '@/shared/address'
import { useMe } from '@/shared/session'
import RobotForm from './RobotForm.vue'

/** Robots: on which host, what each does now and can do, and where it may work. */
defineProps<{ robots: Schemas['Robot'][]; hosts: Schemas['Host'][]; areas: Schemas['AreaBelow'][] }>()
const { may } = useMe()
const shown = useAddressed('robot')
const changing = ref<Schemas['Robot'] | null>(null)
</script>

<template>
  <table class="ledger">
    <thead>
      <tr>
        <th>Robot</th>
        <th>Works now</th>
        <th>Tags</th>
        <th>Allowed in</th>
        <th v-if="may('robot.change')"></th>
      </tr>
    </thead>
    <tbody>
      <template v-for="robot in robots" :key="robot.id">
        <tr :class="{ open: robot.id === shown }" :data-spot="robot.id === shown">
          <td>
            <b>{{ robot.name }}</b>
            <div class="quiet">
              on {{ robot.host }}<template v-if="robot.account"> as {{ robot.account }}</template>
            </div>
            <div v-if="robot.account_fault" class="care">{{ robot.account_fault }}</div>
            <div v-if="robot.as_runner" class="care">
              its packages work as the runner itself and can read the host's token
            </div>
          </td>
          <td>
            <router-link v-if="robot.busy_with" :to="`/runs/${robot.busy_with}`"
              >R-{{ robot.busy_with }}</router-link
            >
            <span v-else class="quiet">{{ robot.silent ? 'cannot: its host is silent' : 'free' }}</span>
          </td>
          <td>{{ robot.tags.join(', ') || '–' }}</td>
          <td>
            {{ robot.areas.map((area) => area.name).join(', ') || '' }}
            <span v-if="!robot.areas.length" class="care">nowhere, so it gets no work</span>
          </td>
          <td v-if="may('robot.change')" class="num">
            <el-button link type="primary" @click="changing = robot">Change</el-button>
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
</template>
