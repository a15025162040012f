/** Vuetify, dressed: soot and bone, dense, flat, two-pixel corners. */
import { createVuetify } from 'vuetify'
import { VSvgIcon } from 'vuetify/components/VIcon'
import { VApp, VBtn, VDialog, VMenu, VProgressLinear, VSelect, VSnackbar, VSwitch, VTextarea, VTooltip } from 'vuetify/components'

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content

export const theme = createVuetify({
  components: { VApp, VBtn, VDialog, VMenu, VProgressLinear, VSelect, VSnackbar, VSwitch, VTextarea, VTooltip },
  theme: {
    cspNonce: nonce,
    defaultTheme: 'soot',
    themes: {
      soot: {
        dark: true,
        colors: {
          background: '#171513', surface: '#211e1b', 'surface-bright': '#2b2723', 'surface-light': '#2b2723',
          primary: '#ece4d8', secondary: '#a89e91', error: '#e2775a',
          'on-background': '#ece4d8', 'on-surface': '#ece4d8', 'on-primary': '#171513',
        },
      },
      bone: {
        dark: false,
        colors: {
          background: '#ece6dc', surface: '#e2dacd', 'surface-bright': '#f4efe7', 'surface-light': '#f4efe7',
          primary: '#221e1a', secondary: '#655b50', error: '#a83f22',
          'on-background': '#221e1a', 'on-surface': '#221e1a', 'on-primary': '#ece6dc',
        },
      },
    },
  },
  icons: { defaultSet: 'own', aliases: { dropdown: 'M5 9.500h2l5 5 5-5h2l-7 7z' }, sets: { own: { component: VSvgIcon } } },
  defaults: {
    VBtn: { variant: 'text', density: 'compact', ripple: false, rounded: 'sm' },
    VSelect: { variant: 'outlined', density: 'compact', hideDetails: true, menuProps: { transition: false, contentClass: 'menu' } },
    VTextarea: { variant: 'outlined', density: 'compact', hideDetails: true, rows: 1, autoGrow: true },
    VSwitch: { density: 'compact', hideDetails: true, ripple: false, inset: true },
    VTooltip: { openDelay: 500, transition: false },
    VProgressLinear: { height: 3, color: 'primary' },
  },
})
