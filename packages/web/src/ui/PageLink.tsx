import { chakra } from '@chakra-ui/react'
import { Link } from 'react-router'

/** A link to a page of ours that takes style like any part of the kit. */
export const PageLink = chakra(Link)
