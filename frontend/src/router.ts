import { createRouter, createWebHistory } from 'vue-router'

import { useSession } from './stores/session'

export const STAGES = ['draw', 'conditions', 'grid', 'solve', 'read', 'vary', 'size', 'report'] as const
export type Stage = (typeof STAGES)[number]

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', component: () => import('./home/HomeView.vue') },
    { path: '/help', component: () => import('./help/HelpView.vue') },
    { path: '/compare', component: () => import('./compare/CompareView.vue') },
    { path: '/sign-in', component: () => import('./signin/SignInView.vue'), meta: { open: true } },
    { path: '/cases/:id(\\d+)/print', component: () => import('./stages/report/ReportPage.vue') },
    { path: '/cases/:id(\\d+)/:stage?', component: () => import('./desk/Desk.vue') },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
})

router.beforeEach(async (to) => {
  const session = useSession()
  if (!session.known) {
    try {
      await session.load()
    } catch {
      return true
    }
  }
  if (!session.user && !to.meta.open) return '/sign-in'
  return true
})
