import { createRouter, createWebHistory, type RouteRecordRaw } from 'vue-router'

declare module 'vue-router' {
  interface RouteMeta {
    section?: string
    open?: boolean
  }
}

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
  { path: '/', component: () => import('@/today/TodayPage.vue'), meta: { section: 'Today' } },
  { path: '/ideas', component: () => import('@/ideas/IdeasPage.vue'), meta: { section: 'Ideas' } },
  { path: '/ideas/enter', component: () => import('@/ideas/EnterPage.vue'), meta: { section: 'Ideas' } },
  { path: '/ideas/bring', component: () => import('@/ideas/BringPage.vue'), meta: { section: 'Ideas' } },
  {
    path: '/ideas/bring/:id(\\d+)',
    component: () => import('@/ideas/BringPage.vue'),
    meta: { section: 'Ideas' },
  },
  { path: '/ideas/thanks', component: () => import('@/ideas/ThanksPage.vue'), meta: { section: 'Ideas' } },
  {
    path: '/ideas/thanks/ranking',
    component: () => import('@/ideas/HelpedPage.vue'),
    meta: { section: 'Ideas' },
  },
  { path: '/ideas/begin', component: () => import('@/ideas/BeginPage.vue'), meta: { section: 'Ideas' } },
  { path: '/ideas/new', component: () => import('@/ideas/InterviewPage.vue'), meta: { section: 'Ideas' } },
  {
    path: '/ideas/new/:id(\\d+)',
    component: () => import('@/ideas/InterviewPage.vue'),
    meta: { section: 'Ideas' },
  },
  { path: '/ideas/:id(\\d+)', component: () => import('@/ideas/IdeaPage.vue'), meta: { section: 'Ideas' } },
  {
    path: '/portfolio',
    component: () => import('@/portfolio/PortfolioPage.vue'),
    meta: { section: 'Portfolio' },
  },
  {
    path: '/workshop',
    component: () => import('@/workshop/WorkshopPage.vue'),
    meta: { section: 'Workshop' },
  },
  {
    path: '/workshop/releases/:id(\\d+)',
    component: () => import('@/workshop/ReleasePage.vue'),
    meta: { section: 'Workshop' },
  },
  {
    path: '/workshop/routines/new',
    component: () => import('@/workshop/NewRoutinePage.vue'),
    meta: { section: 'Workshop' },
  },
  {
    path: '/workshop/routines/:id(\\d+)/start',
    component: () => import('@/workshop/StartPage.vue'),
    meta: { section: 'Workshop' },
  },
  {
    path: '/workshop/routines/:id(\\d+)',
    component: () => import('@/workshop/RoutinePage.vue'),
    meta: { section: 'Workshop' },
  },
  { path: '/robots', component: () => import('@/robots/RobotsPage.vue'), meta: { section: 'Robots' } },
  {
    path: '/robots/:id(\\d+)',
    component: () => import('@/robots/RobotPage.vue'),
    meta: { section: 'Robots' },
  },
  {
    path: '/robots/hosts/:id(\\d+)',
    component: () => import('@/robots/HostPage.vue'),
    meta: { section: 'Robots' },
  },
  {
    path: '/robots/seats',
    component: () => import('@/robots/SeatsPage.vue'),
    meta: { section: 'Robots' },
  },
  {
    path: '/uses/:kind/:key',
    component: () => import('@/uses/UsesPage.vue'),
    meta: { section: 'Robots' },
  },
  { path: '/runs', component: () => import('@/runs/RunsPage.vue'), meta: { section: 'Runs' } },
  {
    path: '/runs/groups/:id(\\d+)',
    component: () => import('@/runs/GroupPage.vue'),
    meta: { section: 'Runs' },
  },
  { path: '/runs/:id(\\d+)', component: () => import('@/runs/RunPage.vue'), meta: { section: 'Runs' } },
  { path: '/value', component: () => import('@/tally/ValuePage.vue'), meta: { section: 'Value' } },
  { path: '/value/rates', component: () => import('@/rates/RatesPage.vue'), meta: { section: 'Value' } },
  {
    path: '/my-computer',
    component: () => import('@/computer/MyComputerPage.vue'),
    meta: { section: 'Profile' },
  },
  { path: '/profile', component: () => import('@/people/ProfilePage.vue'), meta: { section: 'Profile' } },
  { path: '/house', component: () => import('@/house/HousePage.vue'), meta: { section: 'House rules' } },
  {
    path: '/house/ideas',
    component: () => import('@/ideas/IdeaRulesPage.vue'),
    meta: { section: 'House rules' },
  },
  {
    path: '/house/robots',
    component: () => import('@/robots/RobotRulesPage.vue'),
    meta: { section: 'House rules' },
  },
  {
    path: '/house/company',
    component: () => import('@/house/CompanyPage.vue'),
    meta: { section: 'House rules' },
  },
  {
    path: '/house/secrets',
    component: () => import('@/safe/SecretsPage.vue'),
    meta: { section: 'House rules' },
  },
  {
    path: '/house/sign-in',
    component: () => import('@/people/OutsidePage.vue'),
    meta: { section: 'House rules' },
  },
  {
    path: '/house/tokens',
    component: () => import('@/people/TokensPage.vue'),
    meta: { section: 'House rules' },
  },
  {
    path: '/house/people',
    component: () => import('@/people/PeoplePage.vue'),
    meta: { section: 'House rules' },
  },
  {
    path: '/house/people/:id(\\d+)',
    component: () => import('@/people/PersonPage.vue'),
    meta: { section: 'House rules' },
  },
  {
    path: '/house/roles',
    component: () => import('@/access/RolesPage.vue'),
    meta: { section: 'House rules' },
  },
  {
    path: '/house/areas',
    component: () => import('@/house/AreasPage.vue'),
    meta: { section: 'House rules' },
  },
  {
    path: '/house/systems',
    component: () => import('@/house/SystemsPage.vue'),
    meta: { section: 'House rules' },
  },
  {
    path: '/house/calendar',
    component: () => import('@/house/CalendarPage.vue'),
    meta: { section: 'House rules' },
  },
  { path: '/house/mail', component: () => import('@/house/MailPage.vue'), meta: { section: 'House rules' } },
  {
    path: '/house/trail',
    component: () => import('@/house/TrailPage.vue'),
    meta: { section: 'House rules' },
  },
  {
    path: '/house/access',
    component: () => import('@/access/AccessPage.vue'),
    meta: { section: 'House rules' },
  },
  { path: '/search', component: () => import('@/search/SearchPage.vue'), meta: { section: 'Search' } },
  { path: '/health', component: () => import('@/upkeep/HealthPage.vue'), meta: { section: 'Health' } },
  { path: '/:rest(.*)*', component: () => import('@/app/NowherePage.vue') },
]

export const router = createRouter({
  history: createWebHistory(),
  routes,
  scrollBehavior: (to, from, saved) => saved ?? (to.path === from.path ? undefined : { top: 0 }),
})
