import { type Course, type StageName, stageNames } from '@culvert/contract'
import { NavLink } from 'react-router'
import { useHref } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { stageLabels, stageSaying } from '../ui/stages.ts'

/** The course: the stages in the order of the money's way, each saying what waits there. */
export const CourseBar = ({ course }: { readonly course: Course }) => {
  const href = useHref()
  const byStage = new Map(course.stages.map(stage => [stage.stage, stage]))
  return (
    <nav className="course-frame" aria-label="Course">
      <ul className="course">
        {stageNames.map((stage: StageName) => {
          const summary = byStage.get(stage) ?? { stage, waiting: 0, amount: 0, note: '' }
          const saying = stageSaying(summary, course.stages)
          return (
            <li key={stage} className={saying.tone}>
              <NavLink to={href(`/${stage}`)}>
                <span className="name">{stageLabels[stage]}</span>
                <span className="line" aria-hidden="true">
                  <i />
                </span>
                <span className="said">{saying.text}</span>
                <span className="said">{saying.money ? <Amount minor={summary.amount} signed /> : '\u00a0'}</span>
              </NavLink>
            </li>
          )
        })}
      </ul>
    </nav>
  )
}
