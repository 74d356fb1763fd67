/** How an ID begins that stands for one which the network has not given yet. */
export const PROVISIONAL = 'new-'
