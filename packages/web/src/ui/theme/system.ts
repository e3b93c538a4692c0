import { createSystem, defaultBaseConfig, defineConfig, defineTextStyles } from '@chakra-ui/react'
import { button } from './button.ts'
import { colors } from './colors.ts'
import { combobox } from './combobox.ts'
import { dialog } from './dialog.ts'
import { drawer } from './drawer.ts'
import { input, nativeSelect, textarea } from './fields.ts'
import { fileUpload } from './fileUpload.ts'
import { checkbox, field, radioGroup } from './forms.ts'
import { globalCss } from './globalCss.ts'
import { kbd } from './kbd.ts'
import { menu } from './menu.ts'
import { popover } from './popover.ts'
import { skeleton } from './skeleton.ts'
import { switchRecipe } from './switch.ts'
import { table } from './table.ts'
import { toast } from './toast.ts'

const textStyles = defineTextStyles({
  small: { value: { fontSize: '12.5px' } },
  /** Codes and references. */
  mono: { value: { fontFamily: 'mono', fontSize: '13px' } },
})

const radius = { value: '2px' }

/** The interface's look as Chakra knows it: its palette, its texts, and recipes of those parts that are in use. */
export const system = createSystem(
  defaultBaseConfig,
  defineConfig({
    preflight: true,
    globalCss,
    theme: {
      breakpoints: { sm: '480px', md: '768px', lg: '1024px', xl: '1280px' },
      tokens: {
        fonts: {
          body: { value: "'IBM Plex Sans', sans-serif" },
          heading: { value: "'IBM Plex Sans', sans-serif" },
          mono: { value: "'IBM Plex Mono', monospace" },
        },
        radii: { xs: radius, sm: radius, md: radius, lg: radius, l1: radius, l2: radius, l3: radius },
      },
      semanticTokens: { colors },
      textStyles,
      recipes: { button, input, kbd, skeleton, textarea },
      slotRecipes: {
        checkbox,
        combobox,
        dialog,
        drawer,
        field,
        fileUpload,
        menu,
        nativeSelect,
        popover,
        radioGroup,
        switch: switchRecipe,
        table,
        toast,
      },
    },
  }),
)
