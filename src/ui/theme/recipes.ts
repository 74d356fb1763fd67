import { defineRecipe, defineSlotRecipe } from '@chakra-ui/react'

/** The look of the library's components: hairlines instead of boxes, one height for all that is pressed or filled in. */
const HEIGHT = '28px'
const box = { borderWidth: '1px', borderColor: 'hairline', bg: 'sheet', borderRadius: '0', fontSize: '13px' }
const unset = { borderWidth: '0', h: 'auto', minW: '0', px: '0', gap: '1', fontWeight: 'inherit' }
const wrong = { _invalid: { borderColor: 'alarm' } }

/** What a table lies on: the page, or a panel that says so. */
const GROUND = 'var(--ground, {colors.paper})'

export const recipes = {
  button: defineRecipe({
    base: {
      fontWeight: '400',
      lineHeight: 'inherit',
      borderRadius: '0',
      transitionProperty: 'none',
      userSelect: 'auto',
      focusRingColor: 'shop',
      _disabled: { opacity: '1', color: 'quiet', cursor: 'default' },
    },
    variants: {
      variant: {
        // A box that does something.
        outline: {
          ...box,
          '--outline-color': 'colors.hairline',
          color: 'ink',
          _hover: { bg: 'mark' },
          _expanded: { bg: 'mark' },
        },
        // The one next thing to do.
        solid: { bg: 'ink', color: 'paper', _hover: { bg: 'ink/85' } },
        // Words in a text or a cell.
        plain: {
          ...unset,
          display: 'inline',
          textDecoration: 'underline',
          textAlign: 'start',
          whiteSpace: 'inherit',
          fontSize: 'inherit',
          color: 'inherit',
          _hover: { bg: 'mark' },
        },
        // What has a look of its own.
        ghost: {
          ...unset,
          fontSize: 'inherit',
          color: 'inherit',
          justifyContent: 'start',
          _hover: { bg: 'mark' },
          _expanded: { bg: 'transparent' },
        },
      },
      size: {
        sm: {
          h: HEIGHT,
          minW: '0',
          px: '2',
          fontSize: '13px',
          gap: '1.5',
          _icon: { width: '15px', height: '15px' },
        },
        xs: {
          h: '22px',
          minW: '0',
          px: '1.5',
          fontSize: '12px',
          gap: '1',
          _icon: { width: '13px', height: '13px' },
        },
        lg: { h: '36px', minW: '0', px: '4', fontSize: '14px' },
      },
    },
    compoundVariants: (['plain', 'ghost'] as const).map(variant => ({
      variant,
      css: { h: 'auto', px: '0', fontSize: 'inherit' },
    })),
    defaultVariants: { variant: 'outline', size: 'sm' },
  }),
  input: defineRecipe({
    base: { ...box, ...wrong },
    variants: {
      size: {
        sm: { px: '1.5', fontSize: '13px', '--input-height': HEIGHT },
        xs: { px: '1', fontSize: '12px', '--input-height': '24px' },
      },
      variant: { outline: box },
    },
    defaultVariants: { size: 'sm' },
  }),
  textarea: defineRecipe({
    base: { ...box, ...wrong },
    variants: { size: { sm: { px: '1.5', py: '1', fontSize: '12px' } }, variant: { outline: box } },
    defaultVariants: { size: 'sm' },
  }),
  kbd: defineRecipe({
    base: {
      bg: 'transparent',
      borderWidth: '0',
      color: 'quiet',
      fontSize: '11px',
      fontFamily: 'mono',
      px: '0',
    },
    variants: { variant: { plain: {} }, size: { sm: { height: 'auto', fontSize: '11px' } } },
    defaultVariants: { variant: 'plain', size: 'sm' },
  }),
}

export const slotRecipes = {
  nativeSelect: defineSlotRecipe({
    slots: ['root', 'field', 'indicator'],
    base: {
      root: { width: 'auto', minWidth: '0' },
      field: { ...box, ...wrong, color: 'ink' },
      indicator: { color: 'quiet' },
    },
    variants: {
      size: {
        sm: {
          root: { '--select-field-height': HEIGHT },
          field: { ps: '1.5', pe: '5', fontSize: '13px' },
          indicator: { insetEnd: '1', fontSize: '13px' },
        },
      },
      variant: { outline: { field: box } },
    },
    defaultVariants: { size: 'sm' },
  }),
  field: defineSlotRecipe({
    slots: ['root', 'label', 'errorText', 'helperText', 'requiredIndicator'],
    base: {
      root: { gap: '0.5', fontSize: '13px' },
      label: { fontWeight: '400', fontSize: '13px', userSelect: 'auto' },
      errorText: { color: 'alarm', fontWeight: '400', fontSize: '12px' },
      helperText: { color: 'quiet', fontSize: '12px' },
    },
    variants: {
      orientation: {
        horizontal: {
          root: { gap: '3', justifyContent: 'start', flexWrap: 'wrap' },
          label: { flex: '0 0 96px' },
        },
      },
    },
  }),
  checkbox: defineSlotRecipe({
    slots: ['root', 'label', 'control', 'indicator', 'group'],
    base: {
      root: { gap: '1.5', alignItems: 'start', verticalAlign: 'middle' },
      control: { borderColor: 'quiet', borderRadius: '0', mt: '2px', focusRingColor: 'shop' },
      label: { fontWeight: '400', userSelect: 'auto', fontSize: '13px' },
    },
    variants: {
      variant: {
        solid: {
          control: {
            borderColor: 'quiet',
            '&:is([data-state=checked], [data-state=indeterminate])': {
              bg: 'ink',
              color: 'paper',
              borderColor: 'ink',
            },
          },
        },
      },
      size: {
        sm: { control: { boxSize: '14px', p: '0' }, label: { fontSize: '13px' }, root: { gap: '1.5' } },
      },
    },
    defaultVariants: { size: 'sm', variant: 'solid' },
  }),
  dialog: defineSlotRecipe({
    slots: [
      'trigger',
      'backdrop',
      'positioner',
      'content',
      'title',
      'description',
      'closeTrigger',
      'header',
      'body',
      'footer',
    ],
    base: {
      backdrop: { bg: 'rgb(20 16 10 / 0.35)' },
      content: {
        bg: 'sheet',
        borderRadius: '0',
        boxShadow: 'none',
        borderWidth: '1px',
        borderColor: 'ink',
        fontSize: '13px',
      },
      title: { fontSize: '16px', fontWeight: '650' },
    },
  }),
  popover: defineSlotRecipe({
    slots: [
      'trigger',
      'positioner',
      'content',
      'body',
      'header',
      'footer',
      'title',
      'description',
      'closeTrigger',
      'arrow',
      'arrowTip',
      'anchor',
      'indicator',
    ],
    base: {
      content: {
        '--popover-bg': 'colors.sheet',
        bg: 'sheet',
        borderRadius: '0',
        boxShadow: 'none',
        borderWidth: '1px',
        borderColor: 'ink',
        width: 'auto',
        fontSize: '13px',
      },
      body: { p: '3' },
    },
  }),
  toast: defineSlotRecipe({
    slots: ['root', 'title', 'description', 'indicator', 'closeTrigger', 'actionTrigger'],
    base: {
      root: {
        bg: 'ink',
        color: 'paper',
        borderRadius: '0',
        boxShadow: 'none',
        py: '2',
        px: '3',
        '&[data-type]': { bg: 'ink', color: 'paper' },
      },
      title: { fontWeight: '400', fontSize: '13px' },
      actionTrigger: { borderRadius: '0', fontSize: '13px', color: 'paper', borderColor: 'paper' },
      closeTrigger: { color: 'paper' },
    },
  }),
  table: defineSlotRecipe({
    slots: ['root', 'header', 'body', 'row', 'columnHeader', 'cell', 'footer', 'caption'],
    base: {
      // Cells are plain elements: ten thousand rows need no component each.
      root: {
        fontSize: '13px',
        fontVariantNumeric: 'normal',
        '& :is(th, td)': {
          px: '5px',
          py: '3px',
          textAlign: 'right',
          verticalAlign: 'top',
          whiteSpace: 'nowrap',
          borderBottomWidth: '1px',
          borderColor: 'hairline',
        },
        '& [data-words]': { textAlign: 'left' },
        '& [data-wraps]': { whiteSpace: 'normal', overflowWrap: 'anywhere' },
        '& th': { fontWeight: '500', color: 'quiet' },
        '& thead th': { verticalAlign: 'bottom', position: 'relative', bg: GROUND },
        '& tbody th': { color: 'inherit', fontWeight: 'inherit' },
        // Of a table of thousands only those in sight are drawn, each as high as all.
        '& tr[data-long]': { height: '27px', '& > *': { whiteSpace: 'nowrap', overflow: 'hidden' } },
        '& tr[data-quiet] > *': { color: 'quiet' },
        '& tr[data-strong] > th': { fontWeight: '600' },
        '& tr[data-total] > th': { fontWeight: '600' },
        '& tr[data-total] > *': { color: 'ink', bg: 'sheet', borderColor: 'ink' },
        '& [data-first]': { position: 'sticky', left: '0', bg: GROUND },
        '& tr[data-here] > *': { bg: 'mark' },
      },
    },
  }),
}
