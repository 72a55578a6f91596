import type { Feature } from '../../feature.ts'
import { mountAccessKeys } from './key-routes.ts'
import { mountPeople } from './routes.ts'
import { mountSignIn } from './sign-in-routes.ts'

export const peopleFeature: Feature = {
  mount(app, context) {
    mountSignIn(app, context)
    mountPeople(app, context)
    mountAccessKeys(app, context)
  },
}
