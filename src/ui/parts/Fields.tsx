'use client'
import {
  Box,
  Field,
  Input,
  type InputProps,
  NativeSelect,
  type NativeSelectFieldProps,
  Text,
  Textarea,
} from '@chakra-ui/react'
import { createContext, type HTMLInputTypeAttribute, type ReactNode, type Ref, useContext } from 'react'

/** What all fields have. */
export interface Common {
  label: string
  /** whether the label is only heard, not seen: in bars and tables */
  unseen?: boolean
  /** whether the label stands beside the field, not above */
  beside?: boolean
  help?: ReactNode
  problem?: string | undefined
  disabled?: boolean
  width?: string | undefined
  /** called when the field is left */
  left?: () => void
  control?: Ref<never>
}
export interface Held<Value> {
  value: Value
  change: (value: Value) => void
}
/** A field of a form (`FormPanel`), by its name there. */
interface Named {
  name: string
}
type Either<Props, Value> = Omit<Props, keyof Held<Value>> & (Held<Value> | Named)

/** What a form gives to a field of it. */
export interface Given {
  value: unknown
  change: (value: unknown) => void
  left: () => void
  control: Ref<never>
  problem: string | undefined
}
/** A hook by which fields find what their form holds under their name (`FormPanel`); fields alone need no form. */
export const NamedFields = createContext<(name: string) => Given>(() => {
  throw new Error('a field that is named stands in no form')
})

/** Makes a field that holds a value one that may also be of a form. */
export function bindable<Value, Props extends Common & Held<Value>>(Plain: (props: Props) => ReactNode) {
  function Bound({ name, ...props }: Named & Record<string, unknown>) {
    const useNamed = useContext(NamedFields)
    return <Plain {...(props as unknown as Props)} {...useNamed(name)} />
  }
  return (props: Either<Props, Value>) =>
    'name' in props ? <Bound {...(props as Named)} /> : <Plain {...(props as unknown as Props)} />
}

/** A field with its label, what helps to fill it in, and what is wrong with it. */
export function Labelled({
  label,
  unseen,
  beside,
  help,
  problem,
  disabled,
  width,
  children,
}: Omit<Common, 'left' | 'control'> & { children: ReactNode }) {
  if (unseen)
    return (
      // Beside others in a line, what has a width keeps it.
      <Box width={width} minWidth="0" flexShrink={width === undefined || width === '100%' ? 1 : 0}>
        {children}
        {problem && <Wrong>{problem}</Wrong>}
      </Box>
    )
  return (
    <Field.Root
      orientation={beside ? 'horizontal' : 'vertical'}
      invalid={problem !== undefined}
      disabled={disabled ?? false}
      mt="2"
      width={width ?? '100%'}
    >
      <Field.Label>{label}</Field.Label>
      {children}
      {help && <Field.HelperText>{help}</Field.HelperText>}
      {problem && <Field.ErrorText role="alert">{problem}</Field.ErrorText>}
    </Field.Root>
  )
}
const Wrong = ({ children }: { children: ReactNode }) => (
  <Text color="alarm" fontSize="12px" role="alert">
    {children}
  </Text>
)
export const heard = ({ label, unseen }: Common) => (unseen ? { 'aria-label': label } : {})

interface TextProps extends Common, Held<string> {
  placeholder?: string | undefined
  type?: HTMLInputTypeAttribute
  /** what may be chosen instead of typed */
  suggestions?: readonly string[]
  mono?: boolean
  /** called with Enter */
  enter?: () => void
  input?: Omit<InputProps, 'value' | 'onChange'>
}
export const TextField = bindable<string, TextProps>(props => {
  const {
    value,
    change,
    placeholder,
    type,
    suggestions,
    mono,
    enter,
    input,
    left,
    control,
    width,
    disabled,
  } = props
  const list = suggestions && `choices-${props.label}`
  return (
    <Labelled {...props}>
      <Input
        {...heard(props)}
        {...input}
        ref={control as Ref<HTMLInputElement>}
        type={type ?? 'text'}
        list={list}
        width={props.beside ? 'auto' : (width ?? '100%')}
        flex={props.beside ? '1' : undefined}
        fontFamily={mono ? 'mono' : undefined}
        placeholder={placeholder}
        disabled={disabled ?? false}
        aria-invalid={props.problem !== undefined}
        value={value ?? ''}
        onChange={event => change(event.target.value)}
        onBlur={event => {
          input?.onBlur?.(event)
          left?.()
        }}
        onKeyDown={event => {
          if (event.key === 'Enter' && enter) {
            event.preventDefault()
            enter()
          }
          input?.onKeyDown?.(event)
        }}
      />
      {suggestions && (
        <datalist id={list}>
          {suggestions.map(one => (
            <option key={one} value={one} />
          ))}
        </datalist>
      )}
    </Labelled>
  )
})

interface LongTextProps extends Common, Held<string> {
  rows?: number
  placeholder?: string
  mono?: boolean
}
export const LongTextField = bindable<string, LongTextProps>(props => (
  <Labelled {...props}>
    <Textarea
      {...heard(props)}
      ref={props.control as Ref<HTMLTextAreaElement>}
      rows={props.rows ?? 4}
      placeholder={props.placeholder}
      fontFamily={props.mono ? 'mono' : undefined}
      value={props.value ?? ''}
      onChange={event => props.change(event.target.value)}
      onBlur={props.left}
    />
  </Labelled>
))

/** A number, or nothing where the field is empty. */
interface NumberProps extends Common, Held<number | undefined> {
  least?: number
  most?: number
  step?: number
  placeholder?: string
  unit?: string
  /** what one unit of the field is in the value: 100 where hundredths are kept */
  scale?: number
}
export const NumberField = bindable<number | undefined, NumberProps>(props => {
  const scale = props.scale ?? 1
  return (
    <Labelled {...props} width={props.unseen ? undefined : props.width}>
      <Box fontSize="13px" whiteSpace={props.unseen ? 'nowrap' : undefined}>
        <Input
          {...heard(props)}
          ref={props.control as Ref<HTMLInputElement>}
          type="number"
          min={props.least}
          max={props.most}
          step={props.step ?? 1}
          width={props.width ?? '70px'}
          placeholder={props.placeholder}
          aria-invalid={props.problem !== undefined}
          value={props.value === undefined ? '' : props.value / scale}
          onChange={({ target }) =>
            props.change(
              target.value === '' ? undefined : Math.round(Number(target.value) * scale * 1e6) / 1e6,
            )
          }
          onBlur={props.left}
        />
        {props.unit && ` ${props.unit}`}
      </Box>
    </Labelled>
  )
})

/** What may be chosen: its value and its words, or several under a heading. */
export type Choice = readonly [value: string, words: string]
export type Choices = readonly (Choice | { heading: string; choices: readonly Choice[] })[]

interface SelectProps extends Common, Held<string> {
  choices: Choices
}
export const SelectField = bindable<string, SelectProps>(props => (
  <Labelled {...props}>
    <NativeSelect.Root
      width={props.beside ? 'auto' : (props.width ?? (props.unseen ? 'auto' : '100%'))}
      flexShrink={0}
      maxWidth="100%"
      disabled={props.disabled ?? false}
    >
      <NativeSelect.Field
        {...heard(props)}
        ref={props.control as Ref<HTMLSelectElement>}
        aria-invalid={props.problem !== undefined}
        value={props.value ?? ''}
        onChange={event => props.change(event.target.value)}
        onBlur={props.left}
      >
        {props.choices.map(one =>
          'heading' in one ? (
            <optgroup key={one.heading} label={one.heading}>
              {one.choices.map(optionOf)}
            </optgroup>
          ) : (
            optionOf(one)
          ),
        )}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  </Labelled>
))
const optionOf = ([value, words]: Choice) => (
  <option key={value} value={value}>
    {words}
  </option>
)

/** A choice among options that are written out as children. */
export function Select({
  width,
  disabled = false,
  children,
  ...props
}: Omit<NativeSelectFieldProps, 'size'> & { width?: string | undefined; disabled?: boolean }) {
  return (
    <NativeSelect.Root width={width ?? 'auto'} flexShrink={0} maxWidth="100%" disabled={disabled}>
      <NativeSelect.Field {...props}>{children}</NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
}
