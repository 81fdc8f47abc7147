<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import { several } from '@/shared/format'
import { useMe } from '@/shared/session'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import { useAddress, useSpot } from '@/shared/address'
import { later } from '@/shared/later'
import CodeNote from '@/shared/CodeNote.vue'
import type { CodeShown } from '@/shared/code'
import HostTable from './HostTable.vue'
import RobotTabs from './RobotTabs.vue'
import RobotTable from './RobotTable.vue'

const AddArea = later(() => import('@/house/AddArea.vue'))
const AddHost = later(() => import('./AddHost.vue'))
const ManyRobots = later(() => import('./ManyRobots.vue'))
const RobotForm = later(() => import('./RobotForm.vue'))

/** Hosts, robots and areas: who is there, who is silent, who may work where. */
const { everywhere, may } = useMe()
const query = useQuery({
  queryKey: ['robots'],
  queryFn: () => ask(api.GET('/api/v1/robots')),
  refetchInterval: 5_000,
})
const data = computed(() => query.data.value)
// What is added stands in the address, so that search and other pages lead here.
const adding = useAddress('add')
const on = useAddress('on')
useSpot(() => data.value !== undefined)
const silent = computed(() => data.value?.hosts.filter((host) => host.silent) ?? [])
const waiting = computed(() => data.value?.hosts.filter((host) => !host.connected) ?? [])
const code = ref<CodeShown | null>(null)
// A robot that was added leads on to what it needs to work.
const made = ref<{ id: number; name: string } | null>(null)
watch(adding, (now) => now && (made.value = null))
function shown(made: CodeShown) {
  code.value = made
  adding.value = ''
}
</script>

<template>
  <div class="stack">
    <div class="spread">
      <div>
        <h1>Robots</h1>
        <p v-if="data" class="lead">
          {{ several(data.robots.length, 'robot', 'robots') }} on
          {{ several(data.hosts.length, 'host', 'hosts')
          }}<template v-if="silent.length"
            >; <b class="bad">{{ silent.map((host) => host.name).join(', ') }} silent</b></template
          ><template v-if="waiting.length"
            >; {{ waiting.map((host) => host.name).join(', ') }} not connected yet</template
          >.
        </p>
      </div>
      <div class="row">
        <el-button v-if="may('area.make')" @click="adding = 'area'">Add an area</el-button>
        <el-button v-if="may('robot.make')" @click="adding = 'robot'">Add a robot</el-button>
        <el-button v-if="may('robot.make')" @click="adding = 'many'">Add many</el-button>
        <el-button v-if="everywhere('robot.make')" type="primary" @click="adding = 'host'"
          >Add a host</el-button
        >
      </div>
    </div>
    <RobotTabs />
    <CodeNote v-if="code" :code="code" @leave="code = null" />
    <AddHost v-if="adding === 'host' && everywhere('robot.make')" @done="shown" @leave="adding = ''" />
    <AddArea v-if="adding === 'area' && data && may('area.make')" :areas="data.areas" @leave="adding = ''" />
    <ManyRobots v-if="adding === 'many' && may('robot.make')" @leave="adding = ''" />
    <RobotForm
      v-if="adding === 'robot' && data && may('robot.make')"
      :hosts="data.hosts"
      :areas="data.areas"
      :on="Number(on) || undefined"
      @made="(robot) => (made = robot)"
      @leave="adding = ''"
    />
    <p v-if="made" class="note" role="status">
      {{ made.name }} is added.
      <router-link :to="`/robots/${made.id}`">See what {{ made.name }} needs to work</router-link>
    </p>
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <template v-if="data">
        <section>
          <h2>Hosts</h2>
          <p v-if="!data.hosts.length" class="note">
            No host yet. Add one and run the runner on it with the code you get.
          </p>
          <HostTable v-else :hosts="data.hosts" @code="shown" />
        </section>
        <section>
          <h2>Robots</h2>
          <p v-if="!data.robots.length" class="note">
            No robot yet. A robot is a worker on a host, allowed in some areas.
          </p>
          <RobotTable v-else :robots="data.robots" :hosts="data.hosts" :areas="data.areas" />
        </section>
        <section>
          <h2>Areas</h2>
          <p v-if="!data.areas.length" class="note">No area yet. Routines and robots belong to areas.</p>
          <ul v-else class="areas">
            <li v-for="area in data.areas" :key="area.id">
              {{ area.name }} <span v-if="area.above" class="quiet">in {{ area.above }}</span>
            </li>
          </ul>
        </section>
      </template>
    </Loaded>
    <MarginNotes>
      <section class="stack tight">
        <h2>How they belong together</h2>
        <p class="quiet">
          A host is a computer; its runner keeps it connected and is silent when not heard from for 30 s. A
          host runs as many robots at once as it has seats. A robot takes work in the areas it is allowed in,
          and in those below, if it has all the tags a routine asks for.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>

<style scoped>
.areas {
  margin: 0;
  padding: 0;
  list-style: none;
  columns: 3;
}
</style>
