import { createSystem, defaultConfig, defineConfig } from '@chakra-ui/react'
import { recipes, slotRecipes } from './recipes'

/** The face itself, its files for other scripts, and what stands in for it until it is here (app/layout.tsx). */
const textFaces =
  "var(--text-face), 'Schibsted Grotesk Variable', var(--text-stand-in), system-ui, sans-serif"

const pair = (light: string, dark: string) => ({ value: { base: light, _dark: dark } })

/**
 * Warm paper and ink; hairlines instead of boxes. The network side is ochre, the shop side deep teal,
 * what stands in both is ink.
 */
const config = defineConfig({
  globalCss: {
    'html, body': {
      bg: 'paper',
      color: 'ink',
      fontSize: '14px',
      lineHeight: '1.4',
      fontFeatureSettings: '"tnum", "lnum"',
    },
    '.no-print, nav[aria-label="Stations"], header': { _print: { display: 'none !important' } },
    // On paper nothing scrolls: what stands in a frame of the screen's height goes on over pages.
    'div:has(main), main, main > div, main > div > div': {
      _print: { height: 'auto !important', overflow: 'visible !important' },
    },
    '::selection': { bg: 'mark' },
    '.figure': {
      cursor: 'pointer',
      textDecoration: 'underline dotted',
      textDecorationColor: 'quiet',
      textUnderlineOffset: '3px',
      '&:hover, &[aria-expanded=true]': { bg: 'mark' },
    },
    ':focus-visible': { outline: '2px solid', outlineColor: 'shop', outlineOffset: '1px' },
  },
  theme: {
    recipes,
    slotRecipes,
    tokens: {
      fonts: {
        body: { value: textFaces },
        heading: { value: textFaces },
        mono: { value: "'Spline Sans Mono Variable', ui-monospace, monospace" },
      },
      radii: { sm: { value: '1px' }, md: { value: '2px' }, lg: { value: '2px' } },
    },
    semanticTokens: {
      colors: {
        paper: pair('#f9f5ec', '#1b1a17'),
        sheet: pair('#fffdf7', '#232119'),
        ink: pair('#23201b', '#ece5d6'),
        quiet: pair('#655d51', '#b5ab9a'),
        hairline: pair('#d8cfbf', '#403b31'),
        mark: pair('#efe3c4', '#3a3320'),
        network: pair('#8f5a00', '#e0a540'),
        shop: pair('#0b5a60', '#5fb9bd'),
        alarm: pair('#9c2b1c', '#f08a76'),
        // What the library's components call them.
        bg: {
          DEFAULT: pair('#f9f5ec', '#1b1a17'),
          subtle: pair('#fffdf7', '#232119'),
          muted: pair('#efe3c4', '#3a3320'),
          panel: pair('#fffdf7', '#232119'),
        },
        fg: {
          DEFAULT: pair('#23201b', '#ece5d6'),
          muted: pair('#655d51', '#b5ab9a'),
          error: pair('#9c2b1c', '#f08a76'),
        },
        border: { DEFAULT: pair('#d8cfbf', '#403b31'), error: pair('#9c2b1c', '#f08a76') },
      },
    },
  },
})
export const system = createSystem(defaultConfig, config)
