import '@fontsource-variable/atkinson-hyperlegible-next/wght.css'
import '@fontsource-variable/fraunces/opsz.css'
import 'element-plus/theme-chalk/base.css'
import './styles/theme.css'

import { createApp } from 'vue'

import App from './App.vue'

createApp(App).mount('#app')
