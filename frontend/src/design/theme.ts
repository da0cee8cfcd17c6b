import { usePreferredDark } from '@vueuse/core'
import { darkTheme, type GlobalThemeOverrides } from 'naive-ui'
import { computed } from 'vue'

/** Read a token as the style sheet sets it, so that colours are written down once. */
function token(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim()
}

/** Naive UI's theme made from our tokens, following light and dark. */
export function useTheme() {
  const dark = usePreferredDark()
  return computed(() => ({
    theme: dark.value ? darkTheme : null,
    overrides: overrides(),
  }))
}

function overrides(): GlobalThemeOverrides {
  const ink = token('--ink')
  const card = token('--card')
  return {
    common: {
      fontFamily: token('--body'),
      borderRadius: token('--r'),
      primaryColor: ink,
      primaryColorHover: token('--ink-2'),
      primaryColorPressed: ink,
      primaryColorSuppl: ink,
      textColorBase: ink,
      textColor1: ink,
      textColor2: ink,
      textColor3: token('--ink-3'),
      placeholderColor: token('--ink-3'),
      bodyColor: token('--paper'),
      cardColor: card,
      modalColor: card,
      popoverColor: card,
      inputColor: card,
      borderColor: token('--edge'),
      dividerColor: token('--line'),
      errorColor: token('--clay'),
      warningColor: token('--clay'),
      successColor: token('--ink'),
      infoColor: token('--ink'),
      boxShadow1: 'none',
      boxShadow2: `0 4px 18px ${token('--line')}`,
    },
  }
}
