<script setup lang="ts">
import type { ButtonInstance } from 'element-plus'
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, newKey } from '@/api/client'
import { useAction } from '@/shared/action'
import Confirm from '@/shared/Confirm.vue'
import History from '@/shared/History.vue'
import Loaded from '@/shared/Loaded.vue'
import Needs from '@/shared/Needs.vue'
import PreCheck from '@/shared/PreCheck.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import Triggers from '@/starts/Triggers.vue'
import { giveFocus } from '@/shared/focus'
import { later } from '@/shared/later'
import LatestRuns from './LatestRuns.vue'
import RoutineAsSet from './RoutineAsSet.vue'
import RoutinePublished from './RoutinePublished.vue'

const StartAddress = later(() => import('@/starts/StartAddress.vue'))
const RoutineOverTime = later(() => import('./RoutineOverTime.vue'))
const Retire = later(() => import('@/shared/Retire.vue'))
const StartNow = later(() => import('./StartNow.vue'))
const RoutineSetup = later(() => import('./RoutineSetup.vue'))

/** A routine: can it start, when does it start, how did it go, and what it counts for. */
const route = useRoute()
const router = useRouter()
const id = computed(() => Number(route.params.id))
const path = computed(() => ({ path: { number: id.value } }))
const query = useQuery({
  queryKey: ['routines', 'one', id],
  queryFn: () => ask(api.GET('/api/v1/routines/{number}', { params: path.value })),
  refetchInterval: 15_000,
})
const data = computed(() => query.data.value)

let key = newKey()
const start = useAction(async () => {
  const made = await ask(
    api.POST('/api/v1/routines/{number}/start', {
      params: { ...path.value, header: { 'idempotency-key': key } },
    }),
  )
  key = newKey()
  await router.push(`/runs/${made.id}`)
})
// Led here to start it: the key to do so is at hand, and nothing starts before it is pressed.
const starter = ref<ButtonInstance | null>(null)
watch(
  () => (route.query.start === '1' ? starter.value : null),
  (button) => button && void nextTick(() => giveFocus(button.ref)),
  { flush: 'post' },
)
const goingLive = ref(false)
const goLive = useAction(async () => {
  await ask(api.POST('/api/v1/routines/{number}/go-live', { params: path.value }))
  goingLive.value = false
})
const unmetLive = computed(() => data.value?.live_needs.filter((need) => !need.met) ?? [])
const unmet = computed(() => data.value?.pre_check.filter((need) => !need.met) ?? [])

// Where something is not met, it is seen before the yes that its run would wait.
const asking = ref(false)
const setting = ref(false)
const retiring = ref(false)
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="data" class="stack">
      <div class="spread">
        <div>
          <p class="quiet"><router-link to="/workshop">Workshop</router-link> · {{ data.area }}</p>
          <h1>{{ data.name }}</h1>
          <p class="lead">
            <router-link :to="`/workshop/releases/${data.release_id}`"
              >{{ data.package }} {{ data.release_version }}</router-link
            >,
            <template v-if="data.retired_at"
              ><b>retired</b> on <When :at="data.retired_at" day />: nothing starts it any more, and what it
              did stays to be read</template
            ><template v-else
              >{{ data.on_trial ? 'on trial: its runs post nothing' : 'in service'
              }}<template v-if="data.live_at"> since <When :at="data.live_at" day /></template
            ></template>
          </p>
        </div>
        <div class="row">
          <el-button
            v-if="data.on_trial && data.may.decide"
            :type="!unmetLive.length ? 'primary' : undefined"
            @click="goingLive = true"
          >
            Let it go live
          </el-button>
          <el-button
            v-if="data.may.start"
            ref="starter"
            :disabled="start.busy.value"
            :type="!data.on_trial || unmetLive.length ? 'primary' : undefined"
            @click="unmet.length ? (asking = true) : start.go()"
          >
            Start now
          </el-button>
          <router-link v-if="data.may.start" :to="`/workshop/routines/${data.id}/start`" class="button"
            >Choose how to start</router-link
          >
        </div>
      </div>
      <Problem v-if="!asking" :error="start.error.value" />
      <StartNow
        v-if="asking"
        :routine="data"
        :busy="start.busy.value"
        :error="start.error.value"
        @yes="start.go()"
        @leave="asking = false"
        @set-up="((asking = false), (setting = true))"
      />
      <RoutineSetup v-if="setting" :routine="data" @leave="setting = false" />
      <template v-else>
        <div v-if="!data.retired_at" class="two">
          <PreCheck :needs="data.pre_check" :able="data.may.change" @set-up="setting = true" />
          <section>
            <template v-if="data.on_trial">
              <h2>To go live: {{ unmetLive.length ? `${unmetLive.length} not met` : 'all met' }}</h2>
              <Needs :needs="data.live_needs" />
            </template>
            <template v-else>
              <h2>Counts for</h2>
              <p v-if="data.idea_id">
                <router-link :to="`/ideas/${data.idea_id}?sheet=tally`"
                  >I-{{ data.idea_id }} {{ data.idea }}</router-link
                >, by {{ data.basis === 'count' ? `the count “${data.count_name}”` : 'runs that worked' }}
              </p>
              <p v-else class="quiet">No idea; its runs post robot time only.</p>
            </template>
          </section>
        </div>
        <Triggers
          :routine="id"
          :triggers="data.triggers"
          :ended="data.ended"
          :needs="data.pre_check"
          :change="data.may.change"
        />
        <StartAddress v-if="!data.retired_at" :routine="data" :change="data.may.change" />
        <RoutinePublished v-if="!data.retired_at || data.published" :routine="data" />
        <RoutineAsSet :routine="data" @change="setting = true" @retire="retiring = true" />
        <RoutineOverTime :routine="id" :name="data.name" />
        <LatestRuns :routine="id" />
      </template>
      <Confirm
        v-model="goingLive"
        :title="`Let ${data.name} go live`"
        action="Let it go live"
        :busy="goLive.busy.value"
        @yes="goLive.go()"
      >
        <p v-if="unmetLive.length" class="note care">
          Lacking: {{ unmetLive.map((need) => `${need.words} (${need.fact})`).join('; ') }}.
        </p>
        <p>
          From now on each run posts its benefit and its cost to the tally, and I-{{ data.idea_id }} is in
          service.
        </p>
        <Problem :error="goLive.error.value" />
      </Confirm>
      <Retire
        v-if="retiring"
        subject="routines"
        :number="id"
        :name="data.name"
        :look="() => ask(api.GET('/api/v1/routines/{number}/retiring', { params: path }))"
        :act="() => ask(api.POST('/api/v1/routines/{number}/retire', { params: path }))"
        @leave="retiring = false"
      />
      <History subject="routine" :number="id" about="routines" />
    </div>
  </Loaded>
</template>
