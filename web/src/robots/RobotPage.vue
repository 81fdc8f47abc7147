<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, newKey, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { several } from '@/shared/format'
import History from '@/shared/History.vue'
import { later } from '@/shared/later'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import Needs from '@/shared/Needs.vue'
import Problem from '@/shared/Problem.vue'
import CodeNote from '@/shared/CodeNote.vue'
import { useCode } from '@/shared/code'
import RobotForm from './RobotForm.vue'

const AccountPassword = later(() => import('./AccountPassword.vue'))
const HostMaintenance = later(() => import('./HostMaintenance.vue'))
const HostSeatsAll = later(() => import('./HostSeatsAll.vue'))
const Retire = later(() => import('@/shared/Retire.vue'))

/** A robot on its way to work: every point checks itself off as it comes true, with its mend beside it. */
const route = useRoute()
const router = useRouter()
const id = computed(() => Number(route.params.id))
const path = computed(() => ({ path: { number: id.value } }))
const query = useQuery({
  queryKey: ['robots', 'one', id],
  queryFn: () => ask(api.GET('/api/v1/robots/{number}', { params: path.value })),
  // A host that falls silent says nothing of it.
  refetchInterval: 5_000,
})
const data = computed(() => query.data.value)
const robot = computed(() => data.value?.robot)
const open = computed(() => data.value?.points.filter((need) => !need.met) ?? [])
const { code, renew } = useCode()

let key = newKey()
const trial = useAction(async () => {
  const params = { ...path.value, header: { 'idempotency-key': key } }
  const made = await ask(api.POST('/api/v1/robots/{number}/trial', { params }))
  key = newKey()
  await router.push(`/runs/${made.id}`)
})
type Doing = 'change' | 'password' | 'seats' | 'maintenance' | 'retire'
const doing = ref<Doing | null>(null)
/** What the page can do about a point, in the words of its button; empty where the reader may not, or nothing can. */
function offer(need: Schemas['Need']): string {
  const now = data.value
  if (!now) return ''
  switch (need.act) {
    case 'change':
      return now.robot.may_change ? 'Change' : ''
    case 'code':
      return now.host.may_change ? 'New code' : ''
    case 'seats':
      return now.host.may_change ? 'Seats' : ''
    case 'password':
      return now.may_password ? 'Password' : ''
    case 'trial':
      return now.may_trial ? (need.met ? 'Once more' : 'Start it') : ''
    default:
      return need.key === 'maintenance' && now.host.may_change ? 'Maintenance' : ''
  }
}
function act(need: Schemas['Need']) {
  if (need.act === 'code') return renew.go(data.value!.host)
  if (need.act === 'trial') return trial.go()
  const what = (need.act || need.key) as Doing
  doing.value = doing.value === what ? null : what
}
const leave = () => (doing.value = null)
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="data && robot" class="stack">
      <div class="spread">
        <div>
          <p class="quiet"><router-link to="/robots">Robots</router-link></p>
          <h1>{{ robot.name }}</h1>
          <p class="lead">
            {{ open.length ? several(open.length, 'point open', 'points open') : 'Ready to work' }}, on
            <router-link :to="`/robots/hosts/${robot.host_id}`">{{ robot.host }}</router-link><template
              v-if="robot.account"
            >
              as {{ robot.account }}</template
            ><template v-if="robot.busy_with"
              >; it works on
              <router-link :to="`/runs/${robot.busy_with}`">R-{{ robot.busy_with }}</router-link></template
            >.
          </p>
        </div>
        <div class="row">
          <el-button v-if="robot.may_change" @click="doing = 'change'">Change it</el-button>
          <el-button v-if="robot.may_retire" link type="danger" @click="doing = 'retire'"
            >Retire it</el-button
          >
        </div>
      </div>
      <Problem :error="trial.error.value ?? renew.error.value" />
      <CodeNote v-if="code" :code="code" @leave="code = null" />
      <RobotForm
        v-if="doing === 'change'"
        :robot="robot"
        :hosts="data.hosts"
        :areas="data.areas"
        @leave="leave"
      />
      <AccountPassword
        v-if="doing === 'password'"
        :host="data.host"
        :account="robot.account"
        :kept="data.password_kept"
        @leave="leave"
      />
      <HostSeatsAll v-if="doing === 'seats'" :host="data.host" @leave="leave" />
      <HostMaintenance v-if="doing === 'maintenance'" :host="data.host" @leave="leave" />
      <section>
        <h2>To work, it needs</h2>
        <Needs :needs="data.points">
          <template #act="{ need }">
            <el-button
              v-if="offer(need)"
              :type="need.met || need.key !== open[0]?.key ? undefined : 'primary'"
              :disabled="trial.busy.value || renew.busy.value"
              :aria-label="`${offer(need)}: ${need.words}`"
              @click="act(need)"
              >{{ offer(need) }}</el-button
            >
          </template>
        </Needs>
      </section>
      <Retire
        v-if="doing === 'retire'"
        subject="robots"
        :number="id"
        :name="robot.name"
        :look="() => ask(api.GET('/api/v1/robots/{number}/retiring', { params: path }))"
        :act="() => ask(api.POST('/api/v1/robots/{number}/retire', { params: path }))"
        @leave="leave"
        @done="router.push('/robots')"
      />
      <MarginNotes>
        <section class="stack tight">
          <h2>How a robot comes to work</h2>
          <p class="quiet">
            The points come true in whatever order, and tick themselves off within seconds. What the host must
            say for itself (accounts, memory, disk, applications) its runner reports once it is connected. The
            trial run goes to this robot alone: it reads its host, writes a file and reads it back, says a
            line, and sends you a notice. It posts nothing to the tally.
          </p>
        </section>
      </MarginNotes>
      <History subject="robot" :number="id" about="robots" />
    </div>
  </Loaded>
</template>
