import { Box, Input, Text } from '@chakra-ui/react'
import { createContext, type ReactNode, useContext } from 'react'
import { asText } from './profileDraft'

const mono = { fontFamily: 'var(--chakra-fonts-mono)', fontSize: 12 }

/** Errors by the path of their field. */
export const Problems = createContext<ReadonlyMap<string, string>>(new Map())

/** A control with its label above, and below it what is wrong with what stands at the path. */
export function Field({ label, path, children }: { label: string; path: string; children: ReactNode }) {
  const wrong = useContext(Problems).get(path)
  return (
    <Box>
      <Text as="label" display="block">
        {label}
        {children}
      </Text>
      {wrong && (
        <Text color="alarm" fontSize="12px" role="alert">
          {wrong}
        </Text>
      )}
    </Box>
  )
}

interface TextFieldProps {
  label: string
  path: string
  value: unknown
  set: (value: string) => void
  placeholder?: string
  /** what it is called where the label alone does not say */
  called?: string
  /** shown as it stands in an address */
  literal?: boolean
  disabled?: boolean
}
export const TextField = ({
  label,
  path,
  value,
  set,
  placeholder,
  called,
  literal,
  disabled,
}: TextFieldProps) => (
  <Field label={label} path={path}>
    <Input
      style={literal ? mono : undefined}
      aria-label={called}
      placeholder={placeholder}
      disabled={disabled}
      value={asText(value)}
      onChange={event => set(event.target.value)}
    />
  </Field>
)

export const Heading = ({ children }: { children: ReactNode }) => (
  <Text as="h2" fontWeight="650" mt="4" mb="1.5">
    {children}
  </Text>
)
export const Grid = ({ children }: { children: ReactNode }) => (
  <Box display="grid" gridTemplateColumns="repeat(3, 1fr)" gap="2">
    {children}
  </Box>
)
