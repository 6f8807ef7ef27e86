/** Which page stands at which address. The first screen comes with the page, the others when they are gone to. */
import OverlapView from './rooms/overlap/OverlapView.vue'
import { router } from './shared/router'

router.addRoute({ path: '/overlap/:id(\\d+)?', name: 'overlap', component: OverlapView })
router.addRoute({ path: '/chart', name: 'chart', component: () => import('./rooms/search/ChartView.vue') })
router.addRoute({ path: '/match', name: 'match', component: () => import('./rooms/search/MatchView.vue') })
router.addRoute({ path: '/panel/:id(\\d+)?', name: 'panel', component: () => import('./rooms/panels/PanelView.vue') })
router.addRoute({ path: '/table', name: 'table', component: () => import('./rooms/table/TableView.vue') })
router.addRoute({ path: '/log/:id(\\d+)?', name: 'log', component: () => import('./rooms/log/LogView.vue') })
router.addRoute({ path: '/stash', name: 'stash', component: () => import('./rooms/stash/StashView.vue') })
router.addRoute({ path: '/guide', name: 'guide', component: () => import('./rooms/stash/GuideView.vue') })
router.addRoute({ path: '/:rest(.*)*', redirect: '/overlap' })
