/** Queues that the owner makes and the application's workers serve. */
export const queues = ['pull_source', 'pull_bank', 'read_file', 'act'] as const
export type QueueName = (typeof queues)[number]
