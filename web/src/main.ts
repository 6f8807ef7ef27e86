import '@fontsource-variable/atkinson-hyperlegible-next/wght.css'
import '@fontsource-variable/fraunces/opsz.css'
import 'element-plus/theme-chalk/base.css'
import './styles/theme.css'

import { createApp } from 'vue'

import App from './App.vue'
import './pages'
import { router } from './shared/router'

createApp(App).use(router).mount('#app')
