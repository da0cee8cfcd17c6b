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

/** The colours of a tag of one kind. */
function tone(kind: string, ground: string, text: string) {
  return { [`color${kind}`]: token(ground), [`textColor${kind}`]: token(text) }
}

function overrides(): GlobalThemeOverrides {
  const ink = token('--ink')
  const card = token('--card')
  const sunk = token('--sunk')
  const ring = `0 0 0 2px ${card}, 0 0 0 4px ${token('--focus')}`
  const clayEdge = `1px solid ${token('--clay')}`
  const edge = `1px solid ${token('--edge')}`
  return {
    Button: {
      fontWeight: '600',
      fontSizeSmall: '12.5px',
      fontSizeMedium: '13.5px',
      paddingMedium: '0 13px',
      paddingSmall: '0 8px',
      color: card,
      colorHover: sunk,
      colorPressed: sunk,
      colorFocus: card,
      border: edge,
      borderHover: edge,
      borderPressed: edge,
      borderFocus: edge,
      borderDisabled: edge,
      textColorHover: ink,
      textColorPressed: ink,
      textColorFocus: ink,
      textColorTextHover: ink,
      textColorTextPressed: ink,
      textColorTextFocus: ink,
      textColorPrimary: token('--on-ink'),
      textColorHoverPrimary: token('--on-ink'),
      textColorPressedPrimary: token('--on-ink'),
      textColorFocusPrimary: token('--on-ink'),
      textColorDisabledPrimary: token('--on-ink'),
      colorQuaternaryHover: sunk,
      colorQuaternaryPressed: sunk,
      opacityDisabled: '0.55',
    },
    Input: {
      border: edge,
      color: card,
      borderHover: edge,
      borderFocus: edge,
      boxShadowFocus: ring,
      borderError: clayEdge,
      borderHoverError: clayEdge,
      borderFocusError: clayEdge,
      boxShadowFocusError: ring,
      colorFocus: card,
      colorFocusError: card,
      textColorDisabled: ink,
      colorDisabled: sunk,
    },
    Checkbox: { boxShadowFocus: ring, borderFocus: edge, borderChecked: edge, color: card },
    Radio: { boxShadowFocus: `inset 0 0 0 1px ${ink}, ${ring}`, boxShadowHover: 'none' },
    Tag: {
      color: token('--slate-wash'),
      textColor: token('--ink-2'),
      ...tone('Success', '--jade-wash', '--jade-deep'),
      ...tone('Warning', '--clay-wash', '--clay'),
      ...tone('Info', '--plum-wash', '--plum'),
    },
    Table: {
      fontSizeSmall: '14px',
      thPaddingSmall: '8px 10px',
      tdPaddingSmall: '9px 10px',
      thColor: card,
      thTextColor: token('--ink-2'),
      thFontWeight: '600',
      tdColor: card,
      borderColor: token('--line'),
      borderRadius: '0',
    },
    Alert: {
      padding: '9px 12px',
      border: `1px solid ${token('--line')}`,
      borderWarning: `1px solid ${token('--line')}`,
      color: card,
      colorWarning: card,
      contentTextColor: ink,
      contentTextColorWarning: ink,
      fontSize: '13px',
      borderRadius: '6px',
    },
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
