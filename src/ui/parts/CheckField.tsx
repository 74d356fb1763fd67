'use client'
import { Checkbox } from '@chakra-ui/react'
import type { Ref } from 'react'
import { bindable, type Common, type Held, heard } from './Fields'

interface CheckProps extends Common, Held<boolean> {}
export const CheckField = bindable<boolean, CheckProps>(props => (
  <Checkbox.Root
    my={props.unseen ? '0' : '1'}
    checked={props.value ?? false}
    disabled={props.disabled ?? false}
    onCheckedChange={({ checked }) => props.change(checked === true)}
  >
    <Checkbox.HiddenInput
      {...heard(props)}
      ref={props.control as Ref<HTMLInputElement>}
      onBlur={props.left}
    />
    <Checkbox.Control />
    {!props.unseen && <Checkbox.Label>{props.label}</Checkbox.Label>}
  </Checkbox.Root>
))
