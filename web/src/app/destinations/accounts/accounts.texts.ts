/** Texts of this part, marked for Angular's own translation. */
export const accountTexts = {
  title: $localize`:@@accounts.title:Accounts`,
  intro: $localize`:@@accounts.intro:The place asks its owner, on its own page. Nothing is sent by connecting.`,
  none: $localize`:@@accounts.none:No account is connected yet.`,
  noPlaces: $localize`:@@accounts.noPlaces:No place is registered with this house. Everything that takes a server address and a key can be added below.`,
  connectAt: (place: string) => $localize`:@@accounts.connectAt:Connect at ${place}:place:`,
  again: $localize`:@@accounts.again:Connect again`,
  againOf: (name: string) => $localize`:@@accounts.againOf:Connect ${name}:name: again`,
  lost: $localize`:@@accounts.lost:no longer lets us in`,
  lets: (scopes: readonly string[]) =>
    scopes.length === 1
      ? $localize`:@@accounts.letsOne:1 permission: ${scopes[0]}:scope:`
      : $localize`:@@accounts.lets:${scopes.length}:n: permissions: ${scopes.join(', ')}:scopes:`,
  widest: (visibility: string) =>
    $localize`:@@accounts.widest:seen at the widest by ${visibility}:visibility:`,
  placements: $localize`:@@accounts.placements:Placements`,
  placementsOf: (name: string) => $localize`:@@accounts.placementsOf:Placements of ${name}:name:`,
  reading: $localize`:@@accounts.reading:Asking the place …`,
  add: $localize`:@@accounts.add:Add`,
  addOf: (name: string) => $localize`:@@accounts.addOf:Add ${name}:name: as a destination`,
  there: $localize`:@@accounts.there:is a destination`,
  disconnect: $localize`:@@accounts.disconnect:Disconnect`,
  disconnectOf: (name: string) => $localize`:@@accounts.disconnectOf:Disconnect ${name}:name:`,
  disconnectArmed: $localize`:@@accounts.disconnectArmed:Disconnect now`,
  touches: (titles: string) =>
    $localize`:@@accounts.touches:Shows that are still to come go there: ${titles}:titles:. They would lose these destinations.`,
  anyway: $localize`:@@accounts.anyway:Disconnect all the same`,
  keep: $localize`:@@accounts.keep:Keep it`,
  outcomes: {
    refused: $localize`:@@accounts.refused:The owner said no. Nothing was connected.`,
    over: $localize`:@@accounts.over:That took too long, or was begun by somebody else. Nothing was connected: begin again.`,
    failed: $localize`:@@accounts.failed:The place did not answer as it should. Nothing was connected: try again in a minute.`,
    other_account: $localize`:@@accounts.other:That was another account. Connect it on its own; this one is as it was.`,
  },
};
