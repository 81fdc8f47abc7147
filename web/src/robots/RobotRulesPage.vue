<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { faultOf } from '@/shared/faults'
import { several } from '@/shared/format'
import HouseTabs from '@/shared/HouseTabs.vue'
import Loaded from '@/shared/Loaded.vue'
import SettingsForm from '@/shared/SettingsForm.vue'
import { useSettings } from '@/shared/useSettings'

/** The applications that runners look for on their hosts, so that routines can ask for them. */
interface Line {
  name: string
  /** Commands and paths, separated by commas. */
  ways: string
}
const query = useQuery({
  queryKey: ['rules', 'applications'],
  queryFn: () => ask(api.GET('/api/v1/rules/applications')),
})
const page = computed(() => query.data.value)
const settings = useSettings<{ lines: Line[] }>({
  what: 'The list of applications',
  name: 'applications',
  rule: () => page.value,
  given: () =>
    page.value && {
      lines: page.value.applications.map((one) => ({ name: one.name, ways: one.found_by.join(', ') })),
    },
  put: ({ lines }, note, header) => {
    const applications = lines.map((one) => ({
      name: one.name,
      found_by: one.ways
        .split(',')
        .map((way) => way.trim())
        .filter(Boolean),
    }))
    return ask(api.PUT('/api/v1/rules/applications', { params: { header }, body: { applications, note } }))
  },
  touched: [['rules'], ['robots']],
})
const { fields, ready, save } = settings
const fault = (n: number, part: string) => faultOf(save.error.value, `applications.${n}.${part}`)
const hosts = (name: string) => page.value?.applications.find((one) => one.name === name)?.hosts
</script>

<template>
  <div class="stack">
    <HouseTabs />
    <div>
      <h1>What hosts can do</h1>
      <p class="lead">
        Runners report system, memory, disk and screen by themselves. Which applications they look for besides
        is kept here.
      </p>
    </div>
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <SettingsForm v-if="page && ready" :settings="settings" :fields="['applications.']">
        <h2>Applications that runners look for</h2>
        <p v-if="!fields.lines.length" class="note">
          None yet. Add what routines may need on their host: a name that people know it by, and the command
          or path that it is found by there.
        </p>
        <table v-else class="ledger stacks">
          <thead>
            <tr>
              <th style="width: 240px">Application</th>
              <th>Found by a command, or a path from the root on; several with commas</th>
              <th style="width: 110px">Is on</th>
              <th style="width: 90px"></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(line, n) in fields.lines" :key="n">
              <td>
                <el-input
                  v-model="line.name"
                  :aria-label="`Name of application ${n + 1}`"
                  :aria-invalid="!!fault(n, 'name')"
                />
                <div v-if="fault(n, 'name')" class="bad">{{ fault(n, 'name') }}</div>
              </td>
              <td>
                <el-input
                  v-model="line.ways"
                  style="--chars: 44"
                  :aria-label="`What application ${n + 1} is found by`"
                  :aria-invalid="!!fault(n, 'found_by')"
                  placeholder="report-writer, /opt/report-writer"
                />
                <div v-if="fault(n, 'found_by')" class="bad">{{ fault(n, 'found_by') }}</div>
              </td>
              <td class="quiet">
                {{
                  hosts(line.name) === undefined
                    ? 'not kept yet'
                    : several(hosts(line.name)!, 'host', 'hosts')
                }}
              </td>
              <td class="num">
                <el-button
                  link
                  type="danger"
                  :aria-label="`Take ${line.name || `application ${n + 1}`} off`"
                  @click="fields.lines.splice(n, 1)"
                  >Take off</el-button
                >
              </td>
            </tr>
          </tbody>
        </table>
        <p><el-button @click="fields.lines.push({ name: '', ways: '' })">Add an application</el-button></p>
      </SettingsForm>
    </Loaded>
  </div>
</template>
