/** Texts of this part, marked for Angular's own translation. */
export const formatTexts = {
  saveTable: $localize`:@@formats.saveTable:Save as a table`,
  readTable: $localize`:@@formats.readTable:Import a table`,
  tableTaken: (n: number) => $localize`:@@formats.tableTaken:${n}:n: rows were taken over.`,
  tableRefused: $localize`:@@formats.tableRefused:Nothing was taken over. This is to be mended in the table first:`,
  saveShow: $localize`:@@formats.saveShow:Save as a file`,
  readShow: $localize`:@@formats.readShow:Import`,
  notJson: $localize`:@@formats.notJson:This file is no show: it is not JSON.`,
  notHere: {
    destination: (name: string) => $localize`:@@formats.noDestination:There is no destination ${name}:name:.`,
    series: (name: string) => $localize`:@@formats.noSeries:There is no series ${name}:name:.`,
    person: (name: string) => $localize`:@@formats.noPerson:${name}:name: does not belong to the team.`,
    setting: (name: string) =>
      $localize`:@@formats.noSetting:This setting could not be taken over: ${name}:name:.`,
  },
  read: (title: string) => $localize`:@@formats.read:${title}:name: was made from the file.`,
  open: $localize`:@@formats.open:Open it`,
  saveCalendar: $localize`:@@formats.saveCalendar:Save as a calendar`,
};
