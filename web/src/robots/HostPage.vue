<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import Confirm from '@/shared/Confirm.vue'
import { several } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import History from '@/shared/History.vue'
import { later } from '@/shared/later'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import CodeNote from '@/shared/CodeNote.vue'
import { useCode } from '@/shared/code'
import HostFacts from './HostFacts.vue'
import HostHours from './HostHours.vue'
import HostMaintenance from './HostMaintenance.vue'
import HostName from './HostName.vue'
import HostSeatsAll from './HostSeatsAll.vue'

const HostWork = later(() => import('./HostWork.vue'))
const HostReadings = later(() => import('./HostReadings.vue'))
const Retire = later(() => import('@/shared/Retire.vue'))

/** A host: whether it is there, what it can do, how it was of late, and what is done with it. */
const route = useRoute()
const router = useRouter()
const id = computed(() => Number(route.params.id))
const path = computed(() => ({ path: { number: id.value } }))
const query = useQuery({
  queryKey: ['robots', 'host', id],
  queryFn: () => ask(api.GET('/api/v1/hosts/{number}', { params: path.value })),
  refetchInterval: 5_000,
})
const data = computed(() => query.data.value)
const host = computed(() => data.value?.host)
const { code, renew } = useCode()
type Doing = 'Seats' | 'Hours' | 'Maintenance' | 'Name' | 'replace' | 'revoke' | 'retire'
const doing = ref<Doing | null>(null)
const leave = () => (doing.value = null)
const revoke = useAction(async () => {
  await ask(api.DELETE('/api/v1/hosts/{number}/token', { params: path.value }))
  leave()
})
async function replace() {
  leave()
  await renew.go(host.value!)
}
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="data && host" class="stack">
      <div class="spread">
        <div>
          <p class="quiet"><router-link to="/robots">Robots</router-link></p>
          <h1>{{ host.name }}</h1>
          <p class="lead row">
            <Glyph v-if="!host.connected" state="waiting" word="to connect" />
            <Glyph v-else :state="host.silent ? 'silent' : 'heard'" />
            <span v-if="host.heard_at">heard <When :at="host.heard_at" near /></span>
            <span v-if="host.revoked_at" class="care"
              >its token was revoked <When :at="host.revoked_at" near
            /></span>
            <span>{{ host.seats_used }} of {{ several(host.seats, 'seat', 'seats') }} in use</span>
          </p>
        </div>
        <div v-if="host.may_change" class="row">
          <el-button
            v-for="what in ['Seats', 'Hours', 'Maintenance', 'Name'] as const"
            :key="what"
            :aria-expanded="doing === what"
            @click="doing = doing === what ? null : what"
            >{{ what }}</el-button
          >
        </div>
      </div>
      <CodeNote v-if="code" :code="code" @leave="code = null" />
      <HostSeatsAll v-if="doing === 'Seats'" :host="host" @leave="leave" />
      <HostHours v-if="doing === 'Hours'" :host="host" @leave="leave" />
      <HostMaintenance v-if="doing === 'Maintenance'" :host="host" @leave="leave" />
      <HostName v-if="doing === 'Name'" :host="host" @leave="leave" />
      <Problem :error="renew.error.value" />
      <HostFacts :host="host" :upgrade="data.upgrade" />
      <section>
        <h2>Robots on it</h2>
        <p v-if="!data.robots.length" class="note">
          None yet. <router-link :to="`/robots?add=robot&on=${id}`">Add a robot</router-link> to this host.
        </p>
        <table v-else class="ledger stacks">
          <tbody>
            <tr v-for="robot in data.robots" :key="robot.id">
              <td>
                <router-link :to="`/robots/${robot.id}`"
                  ><b>{{ robot.name }}</b></router-link
                >
                <span v-if="robot.account" class="quiet">&#32;as {{ robot.account }}</span>
              </td>
              <td>
                <router-link v-if="robot.busy_with" :to="`/runs/${robot.busy_with}`"
                  >works on R-{{ robot.busy_with }}</router-link
                >
                <span v-else-if="robot.lacks.length" class="care">lacking: {{ robot.lacks[0] }}</span>
                <span v-else class="quiet">free</span>
              </td>
              <td><router-link :to="`/runs?q=${encodeURIComponent(robot.name)}`">its runs</router-link></td>
            </tr>
          </tbody>
        </table>
      </section>
      <HostWork :id="id" />
      <HostReadings v-if="data.readings.length > 1" :readings="data.readings" />
      <section v-if="host.may_change || host.may_retire" class="stack tight">
        <h2>Its connection</h2>
        <p class="quiet">
          A new code connects another computer in place of this one: robots, seats, runs and history stay, and
          the token of the one before ends once the code is used. Its token is changed by itself once a day.
        </p>
        <p class="row">
          <el-button v-if="host.may_change" :disabled="renew.busy.value" @click="doing = 'replace'">{{
            host.connected ? 'Replace it by another computer' : 'New code'
          }}</el-button>
          <el-button v-if="host.may_change && host.connected" @click="doing = 'revoke'"
            >Revoke its token</el-button
          >
          <el-button v-if="host.may_retire" link type="danger" @click="doing = 'retire'">Retire it</el-button>
        </p>
      </section>
      <Confirm
        :model-value="doing === 'replace'"
        :title="`A new code for ${host.name}`"
        action="Make the code"
        :busy="renew.busy.value"
        @update:model-value="leave"
        @yes="replace"
      >
        <p>
          Whoever starts a runner with the code takes the place of what is connected now. Until then that goes
          on. A run that works there when the code is used is handed over if the same runner uses it;
          otherwise it is lost at once, and tried again where its routine says so.
        </p>
      </Confirm>
      <Confirm
        :model-value="doing === 'revoke'"
        :title="`Revoke the token of ${host.name}`"
        action="Revoke it"
        :busy="revoke.busy.value"
        @update:model-value="leave"
        @yes="revoke.go()"
      >
        <p>
          The server knows its runner no more, whoever has the token. What works there now can tell its end
          only if the host is connected again with a new code before its lease is over; otherwise it is lost
          then.
        </p>
        <Problem :error="revoke.error.value" />
      </Confirm>
      <Retire
        v-if="doing === 'retire'"
        subject="robots"
        :number="id"
        :name="host.name"
        :look="() => ask(api.GET('/api/v1/hosts/{number}/retiring', { params: path }))"
        :act="() => ask(api.POST('/api/v1/hosts/{number}/retire', { params: path }))"
        @leave="leave"
        @done="router.push('/robots')"
      />
      <History subject="host" :number="id" about="robots" />
    </div>
  </Loaded>
</template>
