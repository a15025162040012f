/** Vuetify, dressed: soot and bone, dense, flat, two-pixel corners. */
import { createVuetify } from 'vuetify'
import { VApp, VBtn, VMenu, VProgressLinear, VSelect, VSnackbar, VSwitch, VTextarea, VTooltip } from 'vuetify/components'

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content

export const theme = createVuetify({
  components: { VApp, VBtn, VMenu, VProgressLinear, VSelect, VSnackbar, VSwitch, VTextarea, VTooltip },
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
    },
  },
  icons: { aliases: { dropdown: 'M4 6l4 4 4-4', clear: 'M4 4l8 8M12 4l-8 8' }, sets: {}, defaultSet: undefined },
  defaults: {
    VBtn: { variant: 'text', density: 'compact', ripple: false, rounded: 'sm' },
    VSelect: { variant: 'outlined', density: 'compact', hideDetails: true, menuProps: { transition: false, contentClass: 'menu' } },
    VTextarea: { variant: 'outlined', density: 'compact', hideDetails: true, rows: 1, autoGrow: true },
    VSwitch: { density: 'compact', hideDetails: true, ripple: false, inset: true },
    VTooltip: { openDelay: 500, transition: false },
    VProgressLinear: { height: 3, color: 'primary' },
  },
})
