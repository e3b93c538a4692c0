import { chakra, Grid, Span } from '@chakra-ui/react'
import { type Course, type StageName, stageNames } from '@culvert/contract'
import { NavLink } from 'react-router'
import { useHref } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { CourseMark, courseTones } from '../ui/CourseMark.tsx'
import { stageLabels, stageSaying } from '../ui/stages.ts'

const StageLink = chakra(NavLink, {
  base: {
    color: 'ink',
    display: 'block',
    minW: 0,
    _hover: { textDecoration: 'none', '& [data-name]': { textDecoration: 'underline' } },
    '&[aria-current] [data-name]': { color: 'plum' },
  },
})

/** The course: the stages in the order of the money's way, each saying what waits there. */
export const CourseBar = ({ course }: { readonly course: Course }) => {
  const href = useHref()
  const byStage = new Map(course.stages.map(stage => [stage.stage, stage]))
  return (
    <nav aria-label="Course">
      <Grid
        as="ul"
        listStyleType="none"
        gridTemplateColumns={{ base: 'repeat(4, 1fr)', md: 'repeat(8, 1fr)' }}
        gap={{ base: '6px', md: '0' }}
        px={{ base: '12px', md: '24px' }}
        pt="8px"
        pb="10px"
        bg="sheet"
        borderBottomWidth="1px"
        borderColor="hairline"
      >
        {stageNames.map((stage: StageName, place) => {
          const summary = byStage.get(stage) ?? { stage, waiting: 0, amount: 0, note: '' }
          const saying = stageSaying(summary, course.stages)
          const tone = courseTones[saying.tone || 'calm']
          return (
            <li key={stage}>
              <StageLink to={href(`/${stage}`)}>
                <Span fontWeight="600" fontSize="13px" data-name="">
                  {stageLabels[stage]}
                </Span>
                <CourseMark tone={tone} last={place === stageNames.length - 1} />
                <Said color={tone.said}>{saying.text}</Said>
                <Said color={tone.said}>{saying.money ? <Amount minor={summary.amount} signed /> : '\u00a0'}</Said>
              </StageLink>
            </li>
          )
        })}
      </Grid>
    </nav>
  )
}

const Said = chakra('span', {
  base: {
    display: 'block',
    fontSize: '12px',
    lineHeight: '17px',
    whiteSpace: 'nowrap',
    overflow: 'hidden',
    textOverflow: 'ellipsis',
  },
})
