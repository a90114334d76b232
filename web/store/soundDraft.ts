/** What a save needs of the reading of documents, in a script of its own. */
export { withUnread } from '@kavrid/contract';
