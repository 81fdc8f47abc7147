import { createRouter, createWebHistory, type RouteRecordRaw } from 'vue-router'

declare module 'vue-router' {
  interface RouteMeta {
    section?: string
    open?: boolean
  }
}

type Part = RouteRecordRaw['component']
/** A page of a section. */
const page = (path: string, section: string, component: Part): RouteRecordRaw =>
  ({ path, component, meta: { section } }) as RouteRecordRaw

const routes: RouteRecordRaw[] = [
  { path: '/sign-in', component: () => import('@/people/SignInPage.vue'), meta: { open: true } },
  { path: '/first', component: () => import('@/people/FirstPage.vue'), meta: { open: true } },
  {
    path: '/asked-sizing/:token',
    component: () => import('@/cases/AskedSizingPage.vue'),
    meta: { open: true },
  },
  { path: '/welcome/:token', component: () => import('@/people/WelcomePage.vue'), meta: { open: true } },
  {
    path: '/new-password/:token?',
    component: () => import('@/people/NewPasswordPage.vue'),
    meta: { open: true },
  },
  page('/', 'Today', () => import('@/today/TodayPage.vue')),
  page('/ideas', 'Ideas', () => import('@/ideas/IdeasPage.vue')),
  page('/ideas/enter', 'Ideas', () => import('@/ideas/EnterPage.vue')),
  page('/ideas/bring', 'Ideas', () => import('@/ideas/BringPage.vue')),
  page('/ideas/bring/:id(\\d+)', 'Ideas', () => import('@/ideas/BringPage.vue')),
  page('/ideas/thanks', 'Ideas', () => import('@/ideas/ThanksPage.vue')),
  page('/ideas/thanks/ranking', 'Ideas', () => import('@/ideas/HelpedPage.vue')),
  page('/ideas/begin', 'Ideas', () => import('@/ideas/BeginPage.vue')),
  page('/ideas/new', 'Ideas', () => import('@/ideas/InterviewPage.vue')),
  page('/ideas/new/:id(\\d+)', 'Ideas', () => import('@/ideas/InterviewPage.vue')),
  page('/ideas/:id(\\d+)', 'Ideas', () => import('@/ideas/IdeaPage.vue')),
  page('/portfolio', 'Portfolio', () => import('@/portfolio/PortfolioPage.vue')),
  page('/workshop', 'Workshop', () => import('@/workshop/WorkshopPage.vue')),
  page('/workshop/releases/:id(\\d+)', 'Workshop', () => import('@/workshop/ReleasePage.vue')),
  page('/workshop/releases/:id(\\d+)/roll-out', 'Workshop', () => import('@/workshop/NewRolloutPage.vue')),
  page('/workshop/rollouts/:id(\\d+)', 'Workshop', () => import('@/workshop/RolloutPage.vue')),
  page('/workshop/routines/new', 'Workshop', () => import('@/workshop/NewRoutinePage.vue')),
  page('/workshop/routines/:id(\\d+)/start', 'Workshop', () => import('@/workshop/StartPage.vue')),
  page('/workshop/routines/:id(\\d+)', 'Workshop', () => import('@/workshop/RoutinePage.vue')),
  page(
    '/workshop/routines/:id(\\d+)/self-service',
    'Workshop',
    () => import('@/selfservice/PublishPage.vue'),
  ),
  page('/self-service', 'Self-service', () => import('@/selfservice/SelfServicePage.vue')),
  page('/self-service/runs', 'Self-service', () => import('@/selfservice/MyRunsPage.vue')),
  page('/self-service/runs/:id(\\d+)', 'Self-service', () => import('@/selfservice/ServiceRunPage.vue')),
  page('/self-service/:id(\\d+)', 'Self-service', () => import('@/selfservice/ServicePage.vue')),
  page('/robots', 'Robots', () => import('@/robots/RobotsPage.vue')),
  page('/robots/:id(\\d+)', 'Robots', () => import('@/robots/RobotPage.vue')),
  page('/robots/hosts/:id(\\d+)', 'Robots', () => import('@/robots/HostPage.vue')),
  page('/robots/seats', 'Robots', () => import('@/robots/SeatsPage.vue')),
  page('/uses/:kind/:key', 'Robots', () => import('@/uses/UsesPage.vue')),
  page('/runs', 'Runs', () => import('@/runs/RunsPage.vue')),
  page('/runs/groups/:id(\\d+)', 'Runs', () => import('@/runs/GroupPage.vue')),
  page('/runs/:id(\\d+)', 'Runs', () => import('@/runs/RunPage.vue')),
  page('/value', 'Value', () => import('@/tally/ValuePage.vue')),
  page('/value/rates', 'Value', () => import('@/rates/RatesPage.vue')),
  page('/my-computer', 'Profile', () => import('@/computer/MyComputerPage.vue')),
  page('/profile', 'Profile', () => import('@/people/ProfilePage.vue')),
  page('/house', 'House rules', () => import('@/house/HousePage.vue')),
  page('/house/ideas', 'House rules', () => import('@/ideas/IdeaRulesPage.vue')),
  page('/house/robots', 'House rules', () => import('@/robots/RobotRulesPage.vue')),
  page('/house/company', 'House rules', () => import('@/house/CompanyPage.vue')),
  page('/house/secrets', 'House rules', () => import('@/safe/SecretsPage.vue')),
  page('/house/sign-in', 'House rules', () => import('@/people/OutsidePage.vue')),
  page('/house/tokens', 'House rules', () => import('@/people/TokensPage.vue')),
  page('/house/people', 'House rules', () => import('@/people/PeoplePage.vue')),
  page('/house/people/:id(\\d+)', 'House rules', () => import('@/people/PersonPage.vue')),
  page('/house/roles', 'House rules', () => import('@/access/RolesPage.vue')),
  page('/house/areas', 'House rules', () => import('@/house/AreasPage.vue')),
  page('/house/systems', 'House rules', () => import('@/house/SystemsPage.vue')),
  page('/house/calendar', 'House rules', () => import('@/house/CalendarPage.vue')),
  page('/house/mail', 'House rules', () => import('@/house/MailPage.vue')),
  page('/house/trail', 'House rules', () => import('@/house/TrailPage.vue')),
  page('/house/access', 'House rules', () => import('@/access/AccessPage.vue')),
  page('/search', 'Search', () => import('@/search/SearchPage.vue')),
  page('/health', 'Health', () => import('@/upkeep/HealthPage.vue')),
  { path: '/:rest(.*)*', component: () => import('@/app/NowherePage.vue') },
]

export const router = createRouter({
  history: createWebHistory(),
  routes,
  scrollBehavior: (to, from, saved) => saved ?? (to.path === from.path ? undefined : { top: 0 }),
})
