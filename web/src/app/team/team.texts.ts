import type { Role } from '@juncta/core/team';

/** Texts of this part, marked for Angular's own translation. */
export const roleNames: Record<Role, string> = {
  producer: $localize`:@@role.producer:producer`,
  host: $localize`:@@role.host:host`,
  moderator: $localize`:@@role.moderator:moderator`,
};

export const roleTasks: Record<Role, string> = {
  producer: $localize`:@@role.producer.task:plans and books, may do everything`,
  host: $localize`:@@role.host.task:writes and runs shows`,
  moderator: $localize`:@@role.moderator.task:reads and answers viewers`,
};

export const signInTexts = {
  title: $localize`:@@signIn.title:Sign in`,
  demoTitle: $localize`:@@signIn.demoTitle:Who are you tonight?`,
  demoIntro: $localize`:@@signIn.demoIntro:This is the demo of a made-up baking school. Choose a seat; no password is asked for.`,
  demoPending: $localize`:@@signIn.demoPending:Looking who is here`,
  email: $localize`:@@signIn.email:E-mail address`,
  password: $localize`:@@signIn.password:Password`,
  submit: $localize`:@@signIn.submit:Sign in`,
  working: $localize`:@@signIn.working:Signing in`,
  ended: $localize`:@@signIn.ended:Your session has ended. Sign in again; what you were writing is still here.`,
  needEmail: $localize`:@@signIn.needEmail:Enter your e-mail address.`,
  needPassword: $localize`:@@signIn.needPassword:Enter your password.`,
  tagline: $localize`:@@signIn.tagline:One show, every destination, all viewers.`,
};

export const invitationTexts = {
  title: $localize`:@@invitation.title:Join the team`,
  intro: (role: string) =>
    $localize`:@@invitation.intro:You were invited as ${role}:role:. The link works once.`,
  name: $localize`:@@invitation.name:Your name, as the team knows you`,
  email: $localize`:@@invitation.email:E-mail address, to sign in with`,
  password: $localize`:@@invitation.password:Password`,
  passwordHint: (least: number) =>
    $localize`:@@invitation.passwordHint:At least ${least}:count: characters. A few words make a good one.`,
  submit: $localize`:@@invitation.submit:Join`,
  missing: $localize`:@@invitation.missing:This address has no invitation in it. Open the link you were given once more, whole.`,
  reading: $localize`:@@invitation.reading:Looking at your invitation`,
};

export const newPasswordTexts = {
  title: $localize`:@@newPassword.title:Choose a new password`,
  intro: (name: string, email: string) =>
    $localize`:@@newPassword.intro:For ${name}:name:, who signs in as ${email}:email:. It ends your sessions everywhere else.`,
  password: $localize`:@@newPassword.password:New password`,
  submit: $localize`:@@newPassword.submit:Keep it and sign in`,
  missing: $localize`:@@newPassword.missing:This address has no link to a new password in it. Open the one you were given once more, whole.`,
  reading: $localize`:@@newPassword.reading:Looking at your link`,
};

export const passwordTexts = {
  title: $localize`:@@password.title:Your password`,
  current: $localize`:@@password.current:Present password`,
  next: $localize`:@@password.next:New password`,
  change: $localize`:@@password.change:Change it`,
  changed: $localize`:@@password.changed:Your password is changed. Everywhere else you are signed out.`,
};

export const teamTexts = {
  title: $localize`:@@team.title:Team`,
  caption: $localize`:@@team.caption:Everybody who can sign in`,
  name: $localize`:@@team.name:Name`,
  role: $localize`:@@team.role:Role`,
  email: $localize`:@@team.email:Address`,
  actions: $localize`:@@team.actions:Actions`,
  you: $localize`:@@team.you:you`,
  remove: $localize`:@@team.remove:Remove`,
  removeOf: (name: string) => $localize`:@@team.removeOf:Remove ${name}:name:`,
  removeArmed: $localize`:@@team.removeArmed:Press again to remove`,
  roleOf: (name: string) => $localize`:@@team.roleOf:Role of ${name}:name:`,
  giveRole: (role: string) => $localize`:@@team.giveRole:Make ${role}:role:`,
  giveRoleTo: (name: string, role: string) => $localize`:@@team.giveRoleTo:Make ${name}:name: ${role}:role:`,
  giveRoleArmed: $localize`:@@team.giveRoleArmed:Press again: signs them out`,
  newPassword: $localize`:@@team.newPassword:New password`,
  newPasswordOf: (name: string) => $localize`:@@team.newPasswordOf:Link to a new password for ${name}:name:`,
  newPasswordMade: (name: string) =>
    $localize`:@@team.newPasswordMade:With this link ${name}:name: chooses a new password, once, within a day. It is shown once: copy it now, and send it by a way you trust. Until it is used, nothing changes for them.`,
  inviteTitle: $localize`:@@team.inviteTitle:Invite somebody`,
  inviteIntro: $localize`:@@team.inviteIntro:Makes a link that lets one person join, once, within three days. Send it by a way you trust.`,
  inviteAs: $localize`:@@team.inviteAs:As`,
  inviteMake: $localize`:@@team.inviteMake:Make a link`,
  inviteMade: (role: string) => $localize`:@@team.inviteMade:Link for a ${role}:role:`,
  shownOnce: $localize`:@@team.shownOnce:This link is shown once. Copy it now.`,
  copy: $localize`:@@team.copy:Copy`,
  copied: $localize`:@@team.copied:Copied`,
  onlyProducers: $localize`:@@team.onlyProducers:Only producers can invite and remove people, change roles, and help with a lost password.`,
};
