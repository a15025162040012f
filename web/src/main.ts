import '@fontsource/familjen-grotesk/400.css'
import '@fontsource/familjen-grotesk/500.css'
import '@fontsource/familjen-grotesk/600.css'
import '@fontsource/spline-sans-mono/400.css'
import '@fontsource/spline-sans-mono/500.css'
import 'vuetify/styles'
import './look.css'
import { createPinia } from 'pinia'
import { createApp, defineAsyncComponent } from 'vue'
import App from './App.vue'
import { theme } from './theme'
import { rests } from './use/rests'
import { shown } from './use/shown'

const alone = new URLSearchParams(location.search).has('alone')
createApp(alone ? defineAsyncComponent(() => import('./Alone.vue')) : App).use(createPinia()).use(theme).directive('rests', rests).directive('shown', shown).mount('#desk')
