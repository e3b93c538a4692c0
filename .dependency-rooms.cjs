const { options } = require('./.dependency-cruiser.cjs')

/** Folders as rooms: none needs another that needs it. Tests look anywhere, so that they are left out here. */
module.exports = {
  forbidden: [
    {
      name: 'no-circle-of-rooms',
      comment: 'two folders that need each other are one room, or have something of a third',
      severity: 'error',
      scope: 'folder',
      from: { path: '^packages/(core|contract|web|server|standins|demo)/src/' },
      to: { circular: true },
    },
  ],
  options: { ...options, exclude: { path: `${options.exclude.path}|\\.test\\.tsx?$|/src/(testing|bench)/` } },
}
