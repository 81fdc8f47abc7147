<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import { size, several } from '@/shared/format'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import When from '@/shared/When.vue'
import ReleaseForm from './ReleaseForm.vue'
import RoutineTable from './RoutineTable.vue'
import Wheels from './Wheels.vue'

/** Routines and packages: what runs, what was released. */
const route = useRoute()
const router = useRouter()
const { may } = useMe()
const tab = computed(() => (route.query.tab === 'packages' ? 'packages' : 'routines'))
const routines = useQuery({ queryKey: ['routines', 'list'], queryFn: () => ask(api.GET('/api/v1/routines')) })
const releases = useQuery({ queryKey: ['packages', 'list'], queryFn: () => ask(api.GET('/api/v1/releases')) })
</script>

<template>
  <div class="stack">
    <div class="spread">
      <div>
        <h1>Workshop</h1>
        <p class="lead">Packages are released here and set up as routines.</p>
      </div>
      <router-link v-if="may('routine.change')" to="/workshop/routines/new" class="button filled"
        >Set up a routine</router-link
      >
    </div>
    <nav class="tabs" aria-label="Workshop">
      <el-button :class="{ on: tab === 'routines' }" @click="router.replace({ query: {} })"
        >Routines</el-button
      >
      <el-button :class="{ on: tab === 'packages' }" @click="router.replace({ query: { tab: 'packages' } })">
        Packages
      </el-button>
    </nav>
    <template v-if="tab === 'routines'">
      <Loaded
        :pending="routines.isPending.value"
        :error="routines.error.value"
        :empty="!routines.data.value?.length"
      >
        <template #empty>
          No routine yet. Release a package first, then set it up in an area.
          <el-button link type="primary" @click="router.replace({ query: { tab: 'packages' } })">
            To the packages
          </el-button>
        </template>
        <RoutineTable :routines="routines.data.value ?? []" />
      </Loaded>
    </template>
    <template v-else>
      <ReleaseForm v-if="may('package.make')" />
      <Loaded
        :pending="releases.isPending.value"
        :error="releases.error.value"
        :empty="!releases.data.value?.length"
      >
        <template #empty>No package has been released yet.</template>
        <table class="ledger">
          <thead>
            <tr>
              <th>Release</th>
              <th>Tags</th>
              <th class="num">Size</th>
              <th class="num">Used by</th>
              <th class="num">Released</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in releases.data.value" :key="one.id">
              <td>
                <router-link class="whole" :to="`/workshop/releases/${one.id}`"
                  >{{ one.package }} {{ one.version }}</router-link
                >
                <div class="quiet">{{ one.note || one.about }}</div>
              </td>
              <td>{{ one.tags.join(', ') || '–' }}</td>
              <td class="num">{{ size(one.size) }}</td>
              <td class="num">{{ several(one.routines, 'routine', 'routines') }}</td>
              <td class="num">
                <When :at="one.at" day />
                <div class="quiet">{{ one.person }}</div>
              </td>
            </tr>
          </tbody>
        </table>
      </Loaded>
    </template>
    <Wheels v-if="tab === 'packages'" :make="may('package.make')" />
    <MarginNotes>
      <section class="stack tight">
        <h2>What a package holds</h2>
        <p class="quiet">
          A zip with <code>package.toml</code> at its top and Python code. The manifest names it, its version,
          its entry, tags, inputs and outputs:
        </p>
        <pre>
name = "count-rows"
version = "1.0.0"
entry = "main.py"
tags = []

[inputs.list]
type = "string"
format = "file"
title = "List"
required = true

[outputs.rows]
type = "integer"</pre>
        <p class="quiet">The code imports the kit:</p>
        <pre>
import tallyman_kit as job

with job.step("Count"):
    file = open(job.inputs["list"])
    rows = list(file)
job.log(f"{len(rows)} rows")
job.count("rows", len(rows))
job.output(rows=len(rows))</pre>
        <p class="quiet">
          With <code>checkpoints = true</code> and <code>job.checkpoint(next=n)</code> between items its runs
          can be paused and go on elsewhere from <code>job.saved</code>.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>

<style scoped>
pre {
  margin: 0;
  font-size: 12px;
  line-height: 17px;
  overflow-x: auto;
  white-space: pre;
}
</style>
