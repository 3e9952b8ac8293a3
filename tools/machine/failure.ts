/** Something a person can do something about: said in a sentence, without a stack. */
export class Failure extends Error {}
