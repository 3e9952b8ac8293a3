/**
 * Length is what makes a password strong (NIST SP 800-63B, 3.1.1): no rules about digits or signs, but a
 * minimum, and a maximum that keeps hashing cheap to refuse.
 */
export const PASSWORD_MIN = 10;
export const PASSWORD_MAX = 200;
