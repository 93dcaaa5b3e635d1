<?xml version="1.0" encoding="utf-8"?>
<!DOCTYPE TS>
<TS version="2.1" language="de" sourcelanguage="en">
    <context>
        <name>texts</name>
        <message>
            <source>+ condition</source>
            <translation>+ Bedingung</translation>
        </message>
        <message>
            <source>+{} small</source>
            <translation>+{} kleine</translation>
        </message>
        <message>
            <source>, by whom is not known</source>
            <translation>, von wem ist nicht bekannt</translation>
        </message>
        <message>
            <source>, line {}</source>
            <translation>, Zeile {}</translation>
        </message>
        <message>
            <source>, which did not show all of {}</source>
            <translation>, die nicht alles von {} zeigten</translation>
        </message>
        <message>
            <source>, with {}</source>
            <translation>, mit {}</translation>
        </message>
        <message>
            <source>, {} more below what fits</source>
            <translation>, {} weitere passen nicht mehr hin</translation>
        </message>
        <message>
            <source>, {} of them left with a reason</source>
            <translation>, {} davon mit Grund gelassen</translation>
        </message>
        <message>
            <source>; and {} more</source>
            <translation>; und {} weitere</translation>
        </message>
        <message>
            <source>; inside are {}, {}</source>
            <translation>; darin sind {}, {}</translation>
        </message>
        <message>
            <source>; it counts in no sum</source>
            <translation>; es zählt in keiner Summe</translation>
        </message>
        <message>
            <source>; {} says {} last</source>
            <translation>; {} sagt zuletzt {}</translation>
        </message>
        <message>
            <source>; {} where one could not look</source>
            <translation>; {} ohne Einsicht</translation>
        </message>
        <message>
            <source>A click, or an arrow key, takes an application in hand and shows what belongs to it.</source>
            <translation>Ein Klick oder eine Pfeiltaste nimmt eine Anwendung in die Hand und zeigt, was dazu gehört.</translation>
        </message>
        <message>
            <source>A line of the slip up or down</source>
            <translation>Eine Zeile des Zettels nach oben oder unten</translation>
        </message>
        <message>
            <source>A name, a package, a launcher or a path; Enter looks in every place</source>
            <translation>Ein Name, ein Paket, ein Starter oder ein Pfad; Eingabe sucht an jedem Ort</translation>
        </message>
        <message>
            <source>A note</source>
            <translation>Eine Notiz</translation>
        </message>
        <message>
            <source>A note for its line</source>
            <translation>Eine Notiz zu seiner Zeile</translation>
        </message>
        <message>
            <source>A note for {}</source>
            <translation>Eine Notiz zu {}</translation>
        </message>
        <message>
            <source>A survey lists every application with its size, its last use and all that belongs to it, whose each file is, and what was left behind of others.</source>
            <translation>Eine Aufnahme nennt jede Anwendung mit ihrer Größe, ihrer letzten Benutzung und allem, was dazu gehört, wessen jede Datei ist, und was von anderen zurückblieb.</translation>
        </message>
        <message>
            <source>A timer is set on this computer’s own root alone</source>
            <translation>Ein Zeitgeber wird nur auf der eigenen Wurzel dieses Rechners gestellt</translation>
        </message>
        <message>
            <source>A timer looks, says what grew and what nobody uses, and does only what is set here. It never removes a program.</source>
            <translation>Ein Zeitgeber sieht nach, sagt, was wuchs und was niemand benutzt, und tut nur, was hier eingestellt ist. Er entfernt nie ein Programm.</translation>
        </message>
        <message>
            <source>A timer that looks, and says what grew and what nobody uses</source>
            <translation>Ein Zeitgeber, der nachsieht und sagt, was wuchs und was niemand benutzt</translation>
        </message>
        <message>
            <source>A way back exists for every line.</source>
            <translation>Für jede Zeile gibt es einen Weg zurück.</translation>
        </message>
        <message>
            <source>A word that nothing here is called by: is anything of it left?</source>
            <translation>Ein Wort, nach dem hier nichts heißt: ist noch etwas davon da?</translation>
        </message>
        <message>
            <source>Add a condition</source>
            <translation>Eine Bedingung dazu</translation>
        </message>
        <message>
            <source>Added Associations</source>
            <translation>Hinzugefügte Zuordnungen</translation>
        </message>
        <message>
            <source>All belongings</source>
            <translation>Alles Zugehörige</translation>
        </message>
        <message>
            <source>All belongings on a page of their own</source>
            <translation>Alles Zugehörige auf eigener Seite</translation>
        </message>
        <message>
            <source>All of them…</source>
            <translation>Alle…</translation>
        </message>
        <message>
            <source>All shelves again, from the small ones</source>
            <translation>Wieder alle Regale, von den kleinen aus</translation>
        </message>
        <message>
            <source>All that belongs to it</source>
            <translation>Alles, was dazu gehört</translation>
        </message>
        <message>
            <source>All that waits, as one file on another medium; the shelf can be emptied then</source>
            <translation>Alles, was wartet, als eine Datei auf einem anderen Datenträger; danach kann die Verwahrung geleert werden</translation>
        </message>
        <message>
            <source>Another computer’s disk</source>
            <translation>Platte eines anderen Rechners</translation>
        </message>
        <message>
            <source>Another computer’s disk…</source>
            <translation>Platte eines anderen Rechners…</translation>
        </message>
        <message>
            <source>Answered sheets (*.md *.txt);;All files (*)</source>
            <translation>Beantwortete Bögen (*.md *.txt);;Alle Dateien (*)</translation>
        </message>
        <message>
            <source>Answers of the owner, from a sheet…</source>
            <translation>Antworten des Besitzers, von einem Bogen…</translation>
        </message>
        <message>
            <source>Answers…</source>
            <translation>Antworten…</translation>
        </message>
        <message>
            <source>AppImage file</source>
            <translation>AppImage-Datei</translation>
        </message>
        <message>
            <source>Application</source>
            <translation>Anwendung</translation>
        </message>
        <message>
            <source>Archive (*{})</source>
            <translation>Archiv (*{})</translation>
        </message>
        <message>
            <source>Archive the holding shelf</source>
            <translation>Die Verwahrung archivieren</translation>
        </message>
        <message>
            <source>Archive the shelf…</source>
            <translation>Verwahrung archivieren…</translation>
        </message>
        <message>
            <source>Arrows</source>
            <translation>Pfeiltasten</translation>
        </message>
        <message>
            <source>Ask it to end</source>
            <translation>Zum Beenden auffordern</translation>
        </message>
        <message>
            <source>Ask the owner</source>
            <translation>Den Besitzer fragen</translation>
        </message>
        <message>
            <source>Asked for by</source>
            <translation>Verlangt von</translation>
        </message>
        <message>
            <source>Asked of {}.</source>
            <translation>Gefragt wurden {}.</translation>
        </message>
        <message>
            <source>Asking the registry, the rights and the room for every line …</source>
            <translation>Fragt das Verzeichnis, die Rechte und den Platz für jede Zeile …</translation>
        </message>
        <message>
            <source>Back</source>
            <translation>Zurück</translation>
        </message>
        <message>
            <source>Back to the order</source>
            <translation>Zurück zum Auftrag</translation>
        </message>
        <message>
            <source>Belongings</source>
            <translation>Zugehöriges</translation>
        </message>
        <message>
            <source>Below stands the survey of {} until the new one is whole. Nothing on the computer is changed.</source>
            <translation>Unten steht die Aufnahme vom {}, bis die neue vollständig ist. Am Rechner wird nichts geändert.</translation>
        </message>
        <message>
            <source>By kind of program</source>
            <translation>Nach Art des Programms</translation>
        </message>
        <message>
            <source>By person</source>
            <translation>Nach Person</translation>
        </message>
        <message>
            <source>By publisher</source>
            <translation>Nach Herausgeber</translation>
        </message>
        <message>
            <source>By registry</source>
            <translation>Nach Verzeichnis</translation>
        </message>
        <message>
            <source>Bytes</source>
            <translation>Byte</translation>
        </message>
        <message>
            <source>Cancel</source>
            <translation>Abbrechen</translation>
        </message>
        <message>
            <source>Carry an order out: then everything is looked at again. Or ask for a name, at the right.</source>
            <translation>Einen Auftrag ausführen: dann wird alles noch einmal angesehen. Oder rechts nach einem Namen fragen.</translation>
        </message>
        <message>
            <source>Carry out</source>
            <translation>Ausführen</translation>
        </message>
        <message>
            <source>Carry out…</source>
            <translation>Ausführen…</translation>
        </message>
        <message>
            <source>Change</source>
            <translation>Ändern</translation>
        </message>
        <message>
            <source>Change the answer: {}</source>
            <translation>Die Antwort ändern: {}</translation>
        </message>
        <message>
            <source>Changes as slopes</source>
            <translation>Änderungen als Schrägen</translation>
        </message>
        <message>
            <source>Choose a folder…</source>
            <translation>Ordner wählen…</translation>
        </message>
        <message>
            <source>Choose the folder for the reports</source>
            <translation>Den Ordner für die Berichte wählen</translation>
        </message>
        <message>
            <source>Choose…</source>
            <translation>Wählen…</translation>
        </message>
        <message>
            <source>Clear</source>
            <translation>Frei</translation>
        </message>
        <message>
            <source>Clear cache</source>
            <translation>Cache leeren</translation>
        </message>
        <message>
            <source>Clear its cache</source>
            <translation>Cache leeren</translation>
        </message>
        <message>
            <source>Clearance</source>
            <translation>Nachweis</translation>
        </message>
        <message>
            <source>Clearance matrix</source>
            <translation>Tafel des Nachweises</translation>
        </message>
        <message>
            <source>Clearance of order {}</source>
            <translation>Nachweis zum Auftrag {}</translation>
        </message>
        <message>
            <source>Close</source>
            <translation>Schließen</translation>
        </message>
        <message>
            <source>Closing this window does not stop the work. Everything done so far can be put back.</source>
            <translation>Die Arbeit geht weiter, wenn dieses Fenster geschlossen wird. Alles bisher Getane kann zurückgestellt werden.</translation>
        </message>
        <message>
            <source>Columns</source>
            <translation>Spalten</translation>
        </message>
        <message>
            <source>Comes back</source>
            <translation>Kommt zurück</translation>
        </message>
        <message>
            <source>Comes back now</source>
            <translation>Kommt jetzt zurück</translation>
        </message>
        <message>
            <source>Comma-separated values</source>
            <translation>Kommagetrennte Werte</translation>
        </message>
        <message>
            <source>Comma-separated values (*.csv)</source>
            <translation>Kommagetrennte Werte (*.csv)</translation>
        </message>
        <message>
            <source>Comparison (*.json)</source>
            <translation>Vergleich (*.json)</translation>
        </message>
        <message>
            <source>Copied</source>
            <translation>Kopiert</translation>
        </message>
        <message>
            <source>Copy</source>
            <translation>Kopieren</translation>
        </message>
        <message>
            <source>Copy details</source>
            <translation>Einzelheiten kopieren</translation>
        </message>
        <message>
            <source>Copy its name</source>
            <translation>Den Namen kopieren</translation>
        </message>
        <message>
            <source>Copy or write what is shown</source>
            <translation>Kopieren oder schreiben, was gezeigt wird</translation>
        </message>
        <message>
            <source>Copy the rows in hand</source>
            <translation>Die Zeilen in der Hand kopieren</translation>
        </message>
        <message>
            <source>Could not look</source>
            <translation>Nicht einsehbar</translation>
        </message>
        <message>
            <source>Data to another volume, a link in its place</source>
            <translation>Daten auf anderen Datenträger, ein Verweis an ihrer Stelle</translation>
        </message>
        <message>
            <source>Debian packages</source>
            <translation>Debian-Pakete</translation>
        </message>
        <message>
            <source>Decided so far</source>
            <translation>Bisher entschieden</translation>
        </message>
        <message>
            <source>Decisions</source>
            <translation>Entscheidungen</translation>
        </message>
        <message>
            <source>Default Applications</source>
            <translation>Standardanwendungen</translation>
        </message>
        <message>
            <source>Desktop programs</source>
            <translation>Programme der Arbeitsfläche</translation>
        </message>
        <message>
            <source>Do not ask the owner</source>
            <translation>Den Besitzer nicht fragen</translation>
        </message>
        <message>
            <source>Document</source>
            <translation>Dokument</translation>
        </message>
        <message>
            <source>Done again</source>
            <translation>Wiederholt</translation>
        </message>
        <message>
            <source>Drag: the drawer higher or lower. A double click: as it was at first.</source>
            <translation>Ziehen: die Schublade höher oder niedriger. Ein Doppelklick: wie zu Beginn.</translation>
        </message>
        <message>
            <source>Drawer</source>
            <translation>Schublade</translation>
        </message>
        <message>
            <source>Drawer higher</source>
            <translation>Schublade höher</translation>
        </message>
        <message>
            <source>Drawer lower</source>
            <translation>Schublade niedriger</translation>
        </message>
        <message>
            <source>Each is looked at and worked on as it lies there; this computer’s own programs are not touched.</source>
            <translation>Jedes wird angesehen und bearbeitet, wie es dort liegt; die Programme dieses Rechners werden nicht angerührt.</translation>
        </message>
        <message>
            <source>Edge of the drawer</source>
            <translation>Kante der Schublade</translation>
        </message>
        <message>
            <source>Emptied</source>
            <translation>Geleert</translation>
        </message>
        <message>
            <source>Empty for good</source>
            <translation>Endgültig leeren</translation>
        </message>
        <message>
            <source>Empty {} for good</source>
            <translation>{} endgültig leeren</translation>
        </message>
        <message>
            <source>Emptying cannot be undone; it gives {} back.</source>
            <translation>Leeren ist endgültig; es gibt {} zurück.</translation>
        </message>
        <message>
            <source>Empty…</source>
            <translation>Leeren…</translation>
        </message>
        <message>
            <source>End it</source>
            <translation>Beenden</translation>
        </message>
        <message>
            <source>End it in any case</source>
            <translation>Auf jeden Fall beenden</translation>
        </message>
        <message>
            <source>Esc: all shelves</source>
            <translation>Esc: alle Regale</translation>
        </message>
        <message>
            <source>Every day</source>
            <translation>Jeden Tag</translation>
        </message>
        <message>
            <source>Every month</source>
            <translation>Jeden Monat</translation>
        </message>
        <message>
            <source>Every week</source>
            <translation>Jede Woche</translation>
        </message>
        <message>
            <source>Everything has its true size. When it was used is still looked for.</source>
            <translation>Alles hat seine wahre Größe. Wann es benutzt wurde, wird noch gesucht.</translation>
        </message>
        <message>
            <source>Everything is settled</source>
            <translation>Alles ist geklärt</translation>
        </message>
        <message>
            <source>Files</source>
            <translation>Dateien</translation>
        </message>
        <message>
            <source>Filters that you keep stand here</source>
            <translation>Hier stehen behaltene Filter</translation>
        </message>
        <message>
            <source>Find an application, path or person</source>
            <translation>Anwendung, Pfad oder Person finden</translation>
        </message>
        <message>
            <source>Findings</source>
            <translation>Befunde</translation>
        </message>
        <message>
            <source>Finish it</source>
            <translation>Fertig machen</translation>
        </message>
        <message>
            <source>Finish it at the next start</source>
            <translation>Beim nächsten Start fertig machen</translation>
        </message>
        <message>
            <source>Forget this filter</source>
            <translation>Diesen Filter vergessen</translation>
        </message>
        <message>
            <source>Free on every volume, at least</source>
            <translation>Frei auf jedem Datenträger, mindestens</translation>
        </message>
        <message>
            <source>Free space over the visits</source>
            <translation>Freier Platz über die Besuche</translation>
        </message>
        <message>
            <source>Free space over {}, of {} on {}</source>
            <translation>Freier Platz über {}, von {} auf {}</translation>
        </message>
        <message>
            <source>From</source>
            <translation>Von</translation>
        </message>
        <message>
            <source>From an archive…</source>
            <translation>Aus einem Archiv…</translation>
        </message>
        <message>
            <source>Go on</source>
            <translation>Weiter</translation>
        </message>
        <message>
            <source>Go on with the rest</source>
            <translation>Mit dem Rest weitermachen</translation>
        </message>
        <message>
            <source>Go to {}</source>
            <translation>Zu {}</translation>
        </message>
        <message>
            <source>Gone</source>
            <translation>Weg</translation>
        </message>
        <message>
            <source>Gone since {}</source>
            <translation>Weg seit {}</translation>
        </message>
        <message>
            <source>Group the list</source>
            <translation>Die Liste gruppieren</translation>
        </message>
        <message>
            <source>Hide what belongs to the system</source>
            <translation>Verbergen, was zum System gehört</translation>
        </message>
        <message>
            <source>Holding shelf</source>
            <translation>Verwahrung</translation>
        </message>
        <message>
            <source>Holds</source>
            <translation>Umfang</translation>
        </message>
        <message>
            <source>Holds over 1 GB</source>
            <translation>Umfang über 1 GB</translation>
        </message>
        <message>
            <source>Holds over 100 MB</source>
            <translation>Umfang über 100 MB</translation>
        </message>
        <message>
            <source>How long</source>
            <translation>Wie lange</translation>
        </message>
        <message>
            <source>In full</source>
            <translation>Im Wortlaut</translation>
        </message>
        <message>
            <source>In hand: {}</source>
            <translation>In der Hand: {}</translation>
        </message>
        <message>
            <source>In the background</source>
            <translation>Im Hintergrund</translation>
        </message>
        <message>
            <source>In the way: {}: {}</source>
            <translation>Im Weg: {}: {}</translation>
        </message>
        <message>
            <source>Inside</source>
            <translation>Darin</translation>
        </message>
        <message>
            <source>Installed</source>
            <translation>Installiert</translation>
        </message>
        <message>
            <source>Installed in the last 30 days</source>
            <translation>In den letzten 30 Tagen installiert</translation>
        </message>
        <message>
            <source>Is anything left of a name anywhere?</source>
            <translation>Ist von einem Namen noch irgendwo etwas da?</translation>
        </message>
        <message>
            <source>Is anything left of {}?</source>
            <translation>Ist von {} noch etwas da?</translation>
        </message>
        <message>
            <source>It can be taken out.</source>
            <translation>Es kann herausgenommen werden.</translation>
        </message>
        <message>
            <source>It could not be looked at: {}</source>
            <translation>Es konnte nicht angesehen werden: {}</translation>
        </message>
        <message>
            <source>It could not be read</source>
            <translation>Es war nicht lesbar</translation>
        </message>
        <message>
            <source>It is {}’s</source>
            <translation>Es ist von {}</translation>
        </message>
        <message>
            <source>It stands on the slip, in the order and in the reports.</source>
            <translation>Sie steht auf dem Zettel, im Auftrag und in den Berichten.</translation>
        </message>
        <message>
            <source>Its neighbour</source>
            <translation>Der Nachbar</translation>
        </message>
        <message>
            <source>Its own way</source>
            <translation>Auf seine Art</translation>
        </message>
        <message>
            <source>Its package depends on {}; the package tool would take it along.</source>
            <translation>Sein Paket hängt von {} ab; das Paketwerkzeug nähme es mit.</translation>
        </message>
        <message>
            <source>Its registry could not remove it: {}</source>
            <translation>Sein Verzeichnis konnte es nicht entfernen: {}</translation>
        </message>
        <message>
            <source>Keep it so</source>
            <translation>So erhalten</translation>
        </message>
        <message>
            <source>Keep the cache</source>
            <translation>Den Cache behalten</translation>
        </message>
        <message>
            <source>Keep the note</source>
            <translation>Die Notiz behalten</translation>
        </message>
        <message>
            <source>Keep the original</source>
            <translation>Original behalten</translation>
        </message>
        <message>
            <source>Keep this filter</source>
            <translation>Diesen Filter behalten</translation>
        </message>
        <message>
            <source>Keep, whatever else goes</source>
            <translation>Behalten, was auch sonst geht</translation>
        </message>
        <message>
            <source>Kept: {} belongs to {}</source>
            <translation>Behalten: {} gehört zu {}</translation>
        </message>
        <message>
            <source>Kept: {} {} to {}. Survey again and it counts.</source>
            <translation>Behalten: {} {} zu {}. Es zählt ab der nächsten Aufnahme.</translation>
        </message>
        <message>
            <source>Keys</source>
            <translation>Tasten</translation>
        </message>
        <message>
            <source>Kinds:</source>
            <translation>Arten:</translation>
        </message>
        <message>
            <source>Largest single files here</source>
            <translation>Die größten einzelnen Dateien hier</translation>
        </message>
        <message>
            <source>Last resort: without its scripts</source>
            <translation>Letztes Mittel: ohne seine Skripte</translation>
        </message>
        <message>
            <source>Last use surely known</source>
            <translation>Letzte Benutzung sicher bekannt</translation>
        </message>
        <message>
            <source>Last used</source>
            <translation>Zuletzt benutzt</translation>
        </message>
        <message>
            <source>Last used {}</source>
            <translation>Zuletzt benutzt {}</translation>
        </message>
        <message>
            <source>Last used: not known yet</source>
            <translation>Zuletzt benutzt: noch nicht bekannt</translation>
        </message>
        <message>
            <source>Leave it</source>
            <translation>Lassen</translation>
        </message>
        <message>
            <source>Leave it out</source>
            <translation>Auslassen</translation>
        </message>
        <message>
            <source>Leave its cache</source>
            <translation>Cache lassen</translation>
        </message>
        <message>
            <source>Leave its data where it is</source>
            <translation>Daten lassen, wo sie sind</translation>
        </message>
        <message>
            <source>Leave out: {}</source>
            <translation>Auslassen: {}</translation>
        </message>
        <message>
            <source>Ledger</source>
            <translation>Buch</translation>
        </message>
        <message>
            <source>Left alone</source>
            <translation>Nicht angerührt</translation>
        </message>
        <message>
            <source>Left alone on purpose:</source>
            <translation>Mit Absicht nicht angerührt:</translation>
        </message>
        <message>
            <source>Left alone on purpose: {}</source>
            <translation>Mit Absicht nicht angerührt: {}</translation>
        </message>
        <message>
            <source>Left behind</source>
            <translation>Zurückgelassen</translation>
        </message>
        <message>
            <source>Left on purpose: {}{}</source>
            <translation>Mit Absicht gelassen: {}{}</translation>
        </message>
        <message>
            <source>Let it start by itself</source>
            <translation>Wieder von selbst starten lassen</translation>
        </message>
        <message>
            <source>List</source>
            <translation>Liste</translation>
        </message>
        <message>
            <source>List of applications</source>
            <translation>Liste der Anwendungen</translation>
        </message>
        <message>
            <source>Little evidence of use: {}</source>
            <translation>Wenig Zeugnis von Benutzung: {}</translation>
        </message>
        <message>
            <source>Longer ago</source>
            <translation>Länger her</translation>
        </message>
        <message>
            <source>Look again</source>
            <translation>Noch einmal ansehen</translation>
        </message>
        <message>
            <source>Look again with the administrator’s rights: somebody is asked for them first</source>
            <translation>Noch einmal mit den Rechten der Verwaltung ansehen: zuvor wird jemand danach gefragt</translation>
        </message>
        <message>
            <source>Look everywhere for it</source>
            <translation>Überall danach suchen</translation>
        </message>
        <message>
            <source>Looked at {}{}.</source>
            <translation>{}{} angesehen.</translation>
        </message>
        <message>
            <source>Looked with a person’s rights{}. What belongs to everyone goes with the administrator’s alone.</source>
            <translation>Mit den Rechten einer Person angesehen{}. Was allen gehört, geht nur mit denen der Verwaltung.</translation>
        </message>
        <message>
            <source>Looking</source>
            <translation>Suchen</translation>
        </message>
        <message>
            <source>Looking again</source>
            <translation>Sieht noch einmal nach</translation>
        </message>
        <message>
            <source>Looking was stopped</source>
            <translation>Die Suche wurde angehalten</translation>
        </message>
        <message>
            <source>Looking: {} · step {} of {}</source>
            <translation>Sieht nach: {} · Schritt {} von {}</translation>
        </message>
        <message>
            <source>May {} go?</source>
            <translation>Darf {} gehen?</translation>
        </message>
        <message>
            <source>Mounted at</source>
            <translation>Eingehängt in</translation>
        </message>
        <message>
            <source>Move its data into</source>
            <translation>Daten verlegen nach</translation>
        </message>
        <message>
            <source>Move its data to another volume…</source>
            <translation>Daten auf einen anderen Datenträger verlegen…</translation>
        </message>
        <message>
            <source>Named when it grew by</source>
            <translation>Genannt, wenn es wuchs um</translation>
        </message>
        <message>
            <source>Named when nobody used it for</source>
            <translation>Genannt, wenn niemand es benutzte seit</translation>
        </message>
        <message>
            <source>Names are there, and the sizes that packages say they have. You can sort and decide already.</source>
            <translation>Namen sind da, und die Größen, die Pakete angeben. Ordnen und entscheiden geht schon.</translation>
        </message>
        <message>
            <source>Newly pointed at</source>
            <translation>Neu darauf gezeigt</translation>
        </message>
        <message>
            <source>No clearance</source>
            <translation>Kein Nachweis</translation>
        </message>
        <message>
            <source>No date yet</source>
            <translation>Noch kein Datum</translation>
        </message>
        <message>
            <source>No longer kept for certain</source>
            <translation>Nicht mehr sicher behalten</translation>
        </message>
        <message>
            <source>No order</source>
            <translation>Kein Auftrag</translation>
        </message>
        <message>
            <source>No order changes it: end what runs, or let its registry mend itself.</source>
            <translation>Kein Auftrag ändert es: Laufendes beenden oder das Verzeichnis sich selbst ordnen lassen.</translation>
        </message>
        <message>
            <source>No order takes it from here.</source>
            <translation>Kein Auftrag nimmt es von hier.</translation>
        </message>
        <message>
            <source>No order takes it out: its own tool does.</source>
            <translation>Kein Auftrag nimmt es heraus: sein eigenes Werkzeug tut es.</translation>
        </message>
        <message>
            <source>No other disk with a system on it is mounted. A folder that holds one can be chosen.</source>
            <translation>Keine andere Platte mit einem System ist eingehängt. Ein Ordner, in dem eines liegt, kann gewählt werden.</translation>
        </message>
        <message>
            <source>No round was made yet</source>
            <translation>Noch keine Runde</translation>
        </message>
        <message>
            <source>No sign of use</source>
            <translation>Kein Zeichen von Benutzung</translation>
        </message>
        <message>
            <source>No visit yet</source>
            <translation>Noch kein Besuch</translation>
        </message>
        <message>
            <source>Nobody knows what for; it stays.</source>
            <translation>Niemand weiß wozu; es bleibt.</translation>
        </message>
        <message>
            <source>Not any more</source>
            <translation>Doch nicht</translation>
        </message>
        <message>
            <source>Not at the next start</source>
            <translation>Nicht beim nächsten Start</translation>
        </message>
        <message>
            <source>Not everywhere could be looked: {}.</source>
            <translation>Nicht überall konnte nachgesehen werden: {}.</translation>
        </message>
        <message>
            <source>Not grouped</source>
            <translation>Ohne Gruppen</translation>
        </message>
        <message>
            <source>Not in it: {}.</source>
            <translation>Nicht darin: {}.</translation>
        </message>
        <message>
            <source>Not part of this line</source>
            <translation>Kein Teil dieser Zeile</translation>
        </message>
        <message>
            <source>Not rehearsed yet: a rehearsal lists every operation and changes nothing.</source>
            <translation>Noch nicht geprobt: eine Probe nennt jeden Schritt und ändert nichts.</translation>
        </message>
        <message>
            <source>Not used for a year</source>
            <translation>Ein Jahr nicht benutzt</translation>
        </message>
        <message>
            <source>Not used for half a year</source>
            <translation>Ein halbes Jahr nicht benutzt</translation>
        </message>
        <message>
            <source>Not yet</source>
            <translation>Noch nicht</translation>
        </message>
        <message>
            <source>Nothing came, went or changed by so much between the two.</source>
            <translation>Zwischen beiden kam, ging oder änderte sich nichts um so viel.</translation>
        </message>
        <message>
            <source>Nothing can be shown here</source>
            <translation>Hier kann nichts gezeigt werden</translation>
        </message>
        <message>
            <source>Nothing found</source>
            <translation>Nichts gefunden</translation>
        </message>
        <message>
            <source>Nothing has to be settled.</source>
            <translation>Nichts ist zu klären.</translation>
        </message>
        <message>
            <source>Nothing here holds for {}</source>
            <translation>Nichts hier erfüllt {}</translation>
        </message>
        <message>
            <source>Nothing here is called “{}”</source>
            <translation>Nichts hier heißt „{}“</translation>
        </message>
        <message>
            <source>Nothing in hand</source>
            <translation>Nichts in der Hand</translation>
        </message>
        <message>
            <source>Nothing is being carried out</source>
            <translation>Nichts wird ausgeführt</translation>
        </message>
        <message>
            <source>Nothing is on it yet. Space or a double click puts what is in hand on the order.</source>
            <translation>Noch steht nichts darauf. Leertaste oder Doppelklick setzt auf den Auftrag, was in der Hand ist.</translation>
        </message>
        <message>
            <source>Nothing is removed through that registry yet; its cache can be cleared.</source>
            <translation>Durch dieses Verzeichnis wird noch nichts entfernt; der Cache kann geleert werden.</translation>
        </message>
        <message>
            <source>Nothing of it is left anywhere.</source>
            <translation>Nirgends ist noch etwas davon.</translation>
        </message>
        <message>
            <source>Nothing points at it any more.</source>
            <translation>Nichts zeigt mehr darauf.</translation>
        </message>
        <message>
            <source>Nothing that anybody has to look at.</source>
            <translation>Nichts, was jemand ansehen muss.</translation>
        </message>
        <message>
            <source>Nothing to show yet</source>
            <translation>Noch nichts zu zeigen</translation>
        </message>
        <message>
            <source>Nothing waits on the holding shelf.</source>
            <translation>Nichts wartet in der Verwahrung.</translation>
        </message>
        <message>
            <source>Nothing was changed.</source>
            <translation>Nichts wurde geändert.</translation>
        </message>
        <message>
            <source>Nothing was moved</source>
            <translation>Nichts wurde bewegt</translation>
        </message>
        <message>
            <source>Oldest {}</source>
            <translation>Ältestes {}</translation>
        </message>
        <message>
            <source>On a box</source>
            <translation>Auf einem Kasten</translation>
        </message>
        <message>
            <source>On the holding shelf</source>
            <translation>In der Verwahrung</translation>
        </message>
        <message>
            <source>On the holding shelf: {}, and {} of originals.</source>
            <translation>In der Verwahrung: {}, dazu {} Originale.</translation>
        </message>
        <message>
            <source>On the order, or off it</source>
            <translation>Auf den Auftrag, oder herunter</translation>
        </message>
        <message>
            <source>On the volume</source>
            <translation>Auf dem Datenträger</translation>
        </message>
        <message>
            <source>One by one</source>
            <translation>Einzeln</translation>
        </message>
        <message>
            <source>One by one: {}</source>
            <translation>Einzeln: {}</translation>
        </message>
        <message>
            <source>Only if it has ended</source>
            <translation>Nur wenn es beendet ist</translation>
        </message>
        <message>
            <source>Open in a window of its own</source>
            <translation>In eigenem Fenster öffnen</translation>
        </message>
        <message>
            <source>Open its folder</source>
            <translation>Seinen Ordner öffnen</translation>
        </message>
        <message>
            <source>Open the page for the owner</source>
            <translation>Die Seite für den Besitzer öffnen</translation>
        </message>
        <message>
            <source>Open the visit in a window</source>
            <translation>Den Besuch in einem Fenster öffnen</translation>
        </message>
        <message>
            <source>Opening</source>
            <translation>Öffnet</translation>
        </message>
        <message>
            <source>Opening the ledger.</source>
            <translation>Öffnet das Buch.</translation>
        </message>
        <message>
            <source>Operations</source>
            <translation>Schritte</translation>
        </message>
        <message>
            <source>Order</source>
            <translation>Auftrag</translation>
        </message>
        <message>
            <source>Order slip</source>
            <translation>Auftragszettel</translation>
        </message>
        <message>
            <source>Order {}</source>
            <translation>Auftrag {}</translation>
        </message>
        <message>
            <source>Order {} is carried out, and not proved yet</source>
            <translation>Auftrag {} ist ausgeführt und noch nicht nachgewiesen</translation>
        </message>
        <message>
            <source>Order {} was cut off</source>
            <translation>Auftrag {} abgebrochen</translation>
        </message>
        <message>
            <source>Originals of {} are kept, at most {}, before anything goes</source>
            <translation>Originale behalten: {}, höchstens {}, bevor etwas geht</translation>
        </message>
        <message>
            <source>Originals of {} are kept, at most {}, before anything goes. The package tool was asked: it would remove the same {}.</source>
            <translation>Originale behalten: {}, höchstens {}, bevor etwas geht. Das Paketwerkzeug wurde gefragt: es würde dieselben {} entfernen.</translation>
        </message>
        <message>
            <source>Page for the owner</source>
            <translation>Seite für den Besitzer</translation>
        </message>
        <message>
            <source>Parts of the folder</source>
            <translation>Teile des Ordners</translation>
        </message>
        <message>
            <source>People</source>
            <translation>Leute</translation>
        </message>
        <message>
            <source>People’s own folders</source>
            <translation>Eigene Ordner der Leute</translation>
        </message>
        <message>
            <source>Personal content inside {}</source>
            <translation>Persönliches in {}</translation>
        </message>
        <message>
            <source>Place</source>
            <translation>Ort</translation>
        </message>
        <message>
            <source>Places</source>
            <translation>Orte</translation>
        </message>
        <message>
            <source>Pointed at by</source>
            <translation>Darauf zeigt</translation>
        </message>
        <message>
            <source>Programs have their true sizes. What belongs to them and when they were used is still looked for.</source>
            <translation>Programme haben ihre wahre Größe. Was dazu gehört und wann sie benutzt wurden, wird noch gesucht.</translation>
        </message>
        <message>
            <source>Progress by line</source>
            <translation>Fortschritt nach Zeilen</translation>
        </message>
        <message>
            <source>Progress of the survey</source>
            <translation>Fortschritt der Aufnahme</translation>
        </message>
        <message>
            <source>Proof</source>
            <translation>Beleg</translation>
        </message>
        <message>
            <source>Publisher</source>
            <translation>Herausgeber</translation>
        </message>
        <message>
            <source>Pulled in, not asked for</source>
            <translation>Mitgekommen, nicht verlangt</translation>
        </message>
        <message>
            <source>Put an application on the order in Survey.</source>
            <translation>Eine Anwendung in Aufnahme auf den Auftrag setzen.</translation>
        </message>
        <message>
            <source>Put back</source>
            <translation>Zurückgestellt</translation>
        </message>
        <message>
            <source>Put back from an archive</source>
            <translation>Aus einem Archiv zurückstellen</translation>
        </message>
        <message>
            <source>Put back what such a file holds</source>
            <translation>Zurückstellen, was in einer solchen Datei liegt</translation>
        </message>
        <message>
            <source>Put it back</source>
            <translation>Zurückstellen</translation>
        </message>
        <message>
            <source>Put on the order</source>
            <translation>Auf den Auftrag setzen</translation>
        </message>
        <message>
            <source>Question sheet…</source>
            <translation>Fragebogen…</translation>
        </message>
        <message>
            <source>Redo</source>
            <translation>Wiederholen</translation>
        </message>
        <message>
            <source>Registered as</source>
            <translation>Verzeichnet als</translation>
        </message>
        <message>
            <source>Registered with</source>
            <translation>Verzeichnet bei</translation>
        </message>
        <message>
            <source>Make anew</source>
            <translation>Neu erstellen</translation>
        </message>
        <message>
            <source>compiled from its module</source>
            <translation>aus seinem Modul übersetzt</translation>
        </message>
        <message>
            <source>types of files: {}</source>
            <translation>Dateitypen: {}</translation>
        </message>
        <message>
            <source>icons: {}</source>
            <translation>Symbole: {}</translation>
        </message>
        <message>
            <source>schemas of settings: {}</source>
            <translation>Schemata von Einstellungen: {}</translation>
        </message>
        <message>
            <source>is not made anew: the command {} is not on this computer</source>
            <translation>wird nicht neu erstellt: der Befehl {} ist nicht auf diesem Rechner</translation>
        </message>
        <message>
            <source>{} of {} files changed meanwhile and were left</source>
            <translation>{} von {} Dateien änderten sich inzwischen und blieben</translation>
        </message>
        <message>
            <source>Registry forgets a row</source>
            <translation>Verzeichnis vergisst eine Zeile</translation>
        </message>
        <message>
            <source>Registry forgets its settings</source>
            <translation>Verzeichnis vergisst Einstellungen</translation>
        </message>
        <message>
            <source>Rehearse</source>
            <translation>Proben</translation>
        </message>
        <message>
            <source>Rehearse an order and carry it out in Order.</source>
            <translation>Einen Auftrag proben und in Auftrag ausführen.</translation>
        </message>
        <message>
            <source>Rehearse the order</source>
            <translation>Den Auftrag proben</translation>
        </message>
        <message>
            <source>Remove</source>
            <translation>Entfernen</translation>
        </message>
        <message>
            <source>Remove both</source>
            <translation>Beide entfernen</translation>
        </message>
        <message>
            <source>Remove {}</source>
            <translation>{} entfernen</translation>
        </message>
        <message>
            <source>Removed Associations</source>
            <translation>Entfernte Zuordnungen</translation>
        </message>
        <message>
            <source>Report…</source>
            <translation>Bericht…</translation>
        </message>
        <message>
            <source>Return, or a double click, {} it</source>
            <translation>Eingabe oder ein Doppelklick {} es</translation>
        </message>
        <message>
            <source>Rights</source>
            <translation>Rechte</translation>
        </message>
        <message>
            <source>Run and watch {} s</source>
            <translation>Starten und {} s zusehen</translation>
        </message>
        <message>
            <source>Run sheet</source>
            <translation>Laufzettel</translation>
        </message>
        <message>
            <source>Running now</source>
            <translation>Läuft jetzt</translation>
        </message>
        <message>
            <source>Save</source>
            <translation>Speichern</translation>
        </message>
        <message>
            <source>Saved.</source>
            <translation>Gespeichert.</translation>
        </message>
        <message>
            <source>Say who signs.</source>
            <translation>Sagen Sie, wer abzeichnet.</translation>
        </message>
        <message>
            <source>Searched: names, packages, commands, paths and people of {}.</source>
            <translation>Durchsucht: Namen, Pakete, Befehle, Pfade und Leute von {}.</translation>
        </message>
        <message>
            <source>See what still points at it</source>
            <translation>Sehen, was noch darauf zeigt</translation>
        </message>
        <message>
            <source>Services</source>
            <translation>Dienste</translation>
        </message>
        <message>
            <source>Settle first</source>
            <translation>Zuerst klären</translation>
        </message>
        <message>
            <source>Several at once</source>
            <translation>Mehrere auf einmal</translation>
        </message>
        <message>
            <source>Shared stores</source>
            <translation>Gemeinsame Speicher</translation>
        </message>
        <message>
            <source>Shelves</source>
            <translation>Regale</translation>
        </message>
        <message>
            <source>Shelves of applications by last use</source>
            <translation>Regale der Anwendungen nach letzter Benutzung</translation>
        </message>
        <message>
            <source>Shift+Arrows</source>
            <translation>Umschalt+Pfeiltasten</translation>
        </message>
        <message>
            <source>Show everything again</source>
            <translation>Wieder alles zeigen</translation>
        </message>
        <message>
            <source>Show it</source>
            <translation>Zeigen</translation>
        </message>
        <message>
            <source>Show the {} of the system</source>
            <translation>Die {} des Systems zeigen</translation>
        </message>
        <message>
            <source>Show {}</source>
            <translation>{} zeigen</translation>
        </message>
        <message>
            <source>Sign off</source>
            <translation>Abzeichnen</translation>
        </message>
        <message>
            <source>Sign off, write the reports</source>
            <translation>Abzeichnen und Berichte schreiben</translation>
        </message>
        <message>
            <source>Sign off…</source>
            <translation>Abzeichnen…</translation>
        </message>
        <message>
            <source>Signed off by {} on {}, {} · SHA-256 {}…</source>
            <translation>Abgezeichnet von {} am {}, {} · SHA-256 {}…</translation>
        </message>
        <message>
            <source>Signs of use</source>
            <translation>Zeichen von Benutzung</translation>
        </message>
        <message>
            <source>Signs:</source>
            <translation>Zeichen:</translation>
        </message>
        <message>
            <source>Since</source>
            <translation>Seit</translation>
        </message>
        <message>
            <source>Since {} it grew by {}, among it</source>
            <translation>Seit {} wuchs er um {}, darunter</translation>
        </message>
        <message>
            <source>Since {} it grew by {}, most of it</source>
            <translation>Seit {} wuchs er um {}, das meiste davon</translation>
        </message>
        <message>
            <source>Since {} it grew by {}.</source>
            <translation>Seit {} wuchs er um {}.</translation>
        </message>
        <message>
            <source>Since {} it has {} more free, among it</source>
            <translation>Seit {} hat er {} mehr frei, darunter</translation>
        </message>
        <message>
            <source>Since {} it has {} more free, most of it</source>
            <translation>Seit {} hat er {} mehr frei, das meiste davon</translation>
        </message>
        <message>
            <source>Since {} it has {} more free.</source>
            <translation>Seit {} hat er {} mehr frei.</translation>
        </message>
        <message>
            <source>Since {} it is as full as it was.</source>
            <translation>Seit {} ist er so voll wie zuvor.</translation>
        </message>
        <message>
            <source>Size</source>
            <translation>Größe</translation>
        </message>
        <message>
            <source>Somebody made it, or it serves others too: it goes only if you say so.</source>
            <translation>Jemand machte es, oder es dient auch anderen: es geht nur, wenn Sie es sagen.</translation>
        </message>
        <message>
            <source>Somebody’s own places point at {}</source>
            <translation>Jemandes eigene Orte zeigen auf {}</translation>
        </message>
        <message>
            <source>Something of</source>
            <translation>Etwas von</translation>
        </message>
        <message>
            <source>Something went wrong</source>
            <translation>Etwas ging schief</translation>
        </message>
        <message>
            <source>Space</source>
            <translation>Leertaste</translation>
        </message>
        <message>
            <source>Space that came back</source>
            <translation>Zurückgewonnener Platz</translation>
        </message>
        <message>
            <source>Start it and see which files its own processes write; places that nobody claims are kept as its</source>
            <translation>Starten und sehen, welche Dateien seine Prozesse schreiben; was niemand beansprucht, wird ihm zugerechnet</translation>
        </message>
        <message>
            <source>Starts by itself</source>
            <translation>Startet von selbst</translation>
        </message>
        <message>
            <source>State</source>
            <translation>Stand</translation>
        </message>
        <message>
            <source>Stations</source>
            <translation>Stationen</translation>
        </message>
        <message>
            <source>Stations and lenses</source>
            <translation>Stationen und Ansichten</translation>
        </message>
        <message>
            <source>Still pointed at</source>
            <translation>Noch darauf gezeigt</translation>
        </message>
        <message>
            <source>Stop after this one</source>
            <translation>Nach diesem anhalten</translation>
        </message>
        <message>
            <source>Stop it starting by itself</source>
            <translation>Nicht mehr von selbst starten lassen</translation>
        </message>
        <message>
            <source>Stop looking</source>
            <translation>Nicht weiter suchen</translation>
        </message>
        <message>
            <source>Survey</source>
            <translation>Aufnahme</translation>
        </message>
        <message>
            <source>Survey again</source>
            <translation>Neu aufnehmen</translation>
        </message>
        <message>
            <source>Survey again and it counts</source>
            <translation>Es zählt ab der nächsten Aufnahme</translation>
        </message>
        <message>
            <source>Survey by {}</source>
            <translation>Aufnahme als {}</translation>
        </message>
        <message>
            <source>Survey this computer</source>
            <translation>Diesen Rechner aufnehmen</translation>
        </message>
        <message>
            <source>Survey this computer first.</source>
            <translation>Zuerst diesen Rechner aufnehmen.</translation>
        </message>
        <message>
            <source>System</source>
            <translation>System</translation>
        </message>
        <message>
            <source>Systems on disks that are mounted here</source>
            <translation>Systeme auf eingehängten Platten</translation>
        </message>
        <message>
            <source>Systems on mounted disks</source>
            <translation>Systeme auf eingehängten Platten</translation>
        </message>
        <message>
            <source>Table</source>
            <translation>Tabelle</translation>
        </message>
        <message>
            <source>Take all of it out</source>
            <translation>Alles herausnehmen</translation>
        </message>
        <message>
            <source>Take back why {} is left</source>
            <translation>Zurücknehmen, warum {} gelassen wird</translation>
        </message>
        <message>
            <source>Take it out</source>
            <translation>Herausnehmen</translation>
        </message>
        <message>
            <source>Take it out now</source>
            <translation>Jetzt herausnehmen</translation>
        </message>
        <message>
            <source>Take off the order</source>
            <translation>Vom Auftrag nehmen</translation>
        </message>
        <message>
            <source>Take out all {} now</source>
            <translation>Jetzt alle {} herausnehmen</translation>
        </message>
        <message>
            <source>Take out {}</source>
            <translation>{} herausnehmen</translation>
        </message>
        <message>
            <source>Change {}</source>
            <translation>{} ändern</translation>
        </message>
        <message>
            <source>Take them along</source>
            <translation>Mitnehmen</translation>
        </message>
        <message>
            <source>Taking out {} of {}</source>
            <translation>Nimmt {} von {} heraus</translation>
        </message>
        <message>
            <source>Terminal programs</source>
            <translation>Programme der Befehlszeile</translation>
        </message>
        <message>
            <source>The correction was not kept: {}</source>
            <translation>Die Berichtigung wurde nicht behalten: {}</translation>
        </message>
        <message>
            <source>The first answer to what is settled next</source>
            <translation>Die erste Antwort auf die nächste Frage</translation>
        </message>
        <message>
            <source>The folder for the reports</source>
            <translation>Der Ordner für die Berichte</translation>
        </message>
        <message>
            <source>The fourth answer to what is settled next</source>
            <translation>Die vierte Antwort auf die nächste Frage</translation>
        </message>
        <message>
            <source>The head of the file in hand</source>
            <translation>Der Anfang der Datei in der Hand</translation>
        </message>
        <message>
            <source>The holding shelf is emptied after</source>
            <translation>Die Verwahrung wird geleert nach</translation>
        </message>
        <message>
            <source>The ledger is being read.</source>
            <translation>Das Buch wird gelesen.</translation>
        </message>
        <message>
            <source>The mounted disks are being looked at.</source>
            <translation>Die eingehängten Platten werden angesehen.</translation>
        </message>
        <message>
            <source>The mounted disks could not be looked at. A folder that holds a system can be chosen.</source>
            <translation>Die eingehängten Platten konnten nicht angesehen werden. Ein Ordner, in dem ein System liegt, kann gewählt werden.</translation>
        </message>
        <message>
            <source>The newest survey of this computer is being read.</source>
            <translation>Die neueste Aufnahme dieses Rechners wird gelesen.</translation>
        </message>
        <message>
            <source>The note</source>
            <translation>Die Notiz</translation>
        </message>
        <message>
            <source>The owner has answered everything</source>
            <translation>Der Besitzer hat alles beantwortet</translation>
        </message>
        <message>
            <source>The package tool was asked: it would remove the same {}</source>
            <translation>Das Paketwerkzeug wurde gefragt: es würde dieselben {} entfernen</translation>
        </message>
        <message>
            <source>The reports go to</source>
            <translation>Die Berichte gehen nach</translation>
        </message>
        <message>
            <source>The root folder of a machine</source>
            <translation>Der Wurzelordner eines Rechners</translation>
        </message>
        <message>
            <source>The round of {}, {}</source>
            <translation>Die Runde vom {}, {}</translation>
        </message>
        <message>
            <source>The second answer to what is settled next</source>
            <translation>Die zweite Antwort auf die nächste Frage</translation>
        </message>
        <message>
            <source>The sheet that came back</source>
            <translation>Der Bogen, der zurückkam</translation>
        </message>
        <message>
            <source>The survey failed</source>
            <translation>Die Aufnahme misslang</translation>
        </message>
        <message>
            <source>The survey still shows what went. Look again: every place that could still point at it.</source>
            <translation>Die Aufnahme zeigt noch, was gegangen ist. Noch einmal ansehen: jeden Ort, der noch darauf zeigen könnte.</translation>
        </message>
        <message>
            <source>The third answer to what is settled next</source>
            <translation>Die dritte Antwort auf die nächste Frage</translation>
        </message>
        <message>
            <source>The {} answer to what is settled next</source>
            <translation>Die {} Antwort auf die nächste Frage</translation>
        </message>
        <message>
            <source>There is no order.</source>
            <translation>Es gibt keinen Auftrag.</translation>
        </message>
        <message>
            <source>They stay</source>
            <translation>Sie bleiben</translation>
        </message>
        <message>
            <source>This computer has not been looked at yet</source>
            <translation>Dieser Rechner wurde noch nicht angesehen</translation>
        </message>
        <message>
            <source>This computer has not been visited yet.</source>
            <translation>Dieser Rechner wurde noch nicht besucht.</translation>
        </message>
        <message>
            <source>This is not its</source>
            <translation>Das gehört nicht dazu</translation>
        </message>
        <message>
            <source>This page of keys</source>
            <translation>Diese Seite der Tasten</translation>
        </message>
        <message>
            <source>This place belongs to {}</source>
            <translation>Dieser Ort gehört {}</translation>
        </message>
        <message>
            <source>This season</source>
            <translation>Dieses Vierteljahr</translation>
        </message>
        <message>
            <source>This week</source>
            <translation>Diese Woche</translation>
        </message>
        <message>
            <source>This year</source>
            <translation>Dieses Jahr</translation>
        </message>
        <message>
            <source>To be printed</source>
            <translation>Zum Drucken</translation>
        </message>
        <message>
            <source>To come back answered</source>
            <translation>Zum Beantworten zurück</translation>
        </message>
        <message>
            <source>To the holding shelf</source>
            <translation>In die Verwahrung</translation>
        </message>
        <message>
            <source>Today</source>
            <translation>Heute</translation>
        </message>
        <message>
            <source>Took</source>
            <translation>Dauer</translation>
        </message>
        <message>
            <source>Trim {} older than</source>
            <translation>Kürzen: {} älter als</translation>
        </message>
        <message>
            <source>Try again</source>
            <translation>Noch einmal versuchen</translation>
        </message>
        <message>
            <source>Try the skipped ones again</source>
            <translation>Übersprungenes erneut</translation>
        </message>
        <message>
            <source>Turn it off</source>
            <translation>Ausschalten</translation>
        </message>
        <message>
            <source>Turn it on</source>
            <translation>Einschalten</translation>
        </message>
        <message>
            <source>Undo</source>
            <translation>Rückgängig</translation>
        </message>
        <message>
            <source>Undone</source>
            <translation>Rückgängig gemacht</translation>
        </message>
        <message>
            <source>Unlock</source>
            <translation>Freigeben</translation>
        </message>
        <message>
            <source>Unlock: look with the administrator’s rights</source>
            <translation>Freigeben: mit den Rechten der Verwaltung ansehen</translation>
        </message>
        <message>
            <source>Until then the originals hold up to {} of it.</source>
            <translation>Bis dahin halten die Originale bis zu {} davon.</translation>
        </message>
        <message>
            <source>Upkeep</source>
            <translation>Pflege</translation>
        </message>
        <message>
            <source>Upkeep…</source>
            <translation>Pflege…</translation>
        </message>
        <message>
            <source>Used by</source>
            <translation>Benutzt von</translation>
        </message>
        <message>
            <source>Used in the last 30 days</source>
            <translation>In den letzten 30 Tagen benutzt</translation>
        </message>
        <message>
            <source>Used {} or later</source>
            <translation>Benutzt {} oder später</translation>
        </message>
        <message>
            <source>Version</source>
            <translation>Fassung</translation>
        </message>
        <message>
            <source>Visit {}</source>
            <translation>Besuch {}</translation>
        </message>
        <message>
            <source>Visit {} of {} is shown: nothing is decided or changed in this window</source>
            <translation>Besuch {} von {} wird gezeigt: in diesem Fenster wird nichts entschieden oder geändert</translation>
        </message>
        <message>
            <source>Visit {}, {}, {}, {}</source>
            <translation>Besuch {}, {}, {}, {}</translation>
        </message>
        <message>
            <source>Visit {}: {}, {}</source>
            <translation>Besuch {}: {}, {}</translation>
        </message>
        <message>
            <source>Visits</source>
            <translation>Besuche</translation>
        </message>
        <message>
            <source>Volume</source>
            <translation>Datenträger</translation>
        </message>
        <message>
            <source>Volumes, as measured now</source>
            <translation>Datenträger, jetzt gemessen</translation>
        </message>
        <message>
            <source>What</source>
            <translation>Was</translation>
        </message>
        <message>
            <source>What can be done with {}</source>
            <translation>Was mit {} getan werden kann</translation>
        </message>
        <message>
            <source>What is carried out is listed here, operation by operation.</source>
            <translation>Was ausgeführt wird, steht hier, Schritt für Schritt.</translation>
        </message>
        <message>
            <source>What is done</source>
            <translation>Was getan wird</translation>
        </message>
        <message>
            <source>What is in hand</source>
            <translation>Was in der Hand ist</translation>
        </message>
        <message>
            <source>What is read</source>
            <translation>Was gelesen wird</translation>
        </message>
        <message>
            <source>What is registered is read first. Nothing on the computer is changed.</source>
            <translation>Zuerst wird gelesen, was verzeichnet ist. Am Rechner wird nichts geändert.</translation>
        </message>
        <message>
            <source>What it changes</source>
            <translation>Was sich ändert</translation>
        </message>
        <message>
            <source>What orders gave back</source>
            <translation>Was Aufträge zurückgaben</translation>
        </message>
        <message>
            <source>What stands below is not whole. Nothing of it can be carried out, and it is not kept.</source>
            <translation>Was unten steht, ist nicht vollständig. Nichts davon kann ausgeführt werden, und es wird nicht behalten.</translation>
        </message>
        <message>
            <source>What the volume says is used</source>
            <translation>Was der Datenträger belegt nennt</translation>
        </message>
        <message>
            <source>Nothing skipped</source>
            <translation>Nichts übersprungen</translation>
        </message>
        <message>
            <source>Nothing skipped so far</source>
            <translation>Bisher nichts übersprungen</translation>
        </message>
        <message>
            <source>What was skipped, and the volumes</source>
            <translation>Was übersprungen wurde, und die Datenträger</translation>
        </message>
        <message>
            <source>What would help: {}.</source>
            <translation>Was helfen würde: {}.</translation>
        </message>
        <message>
            <source>When the survey is whole the order is drawn from this: what goes along, what comes back, what must be asked first.</source>
            <translation>Wenn die Aufnahme vollständig ist, wird daraus der Auftrag gezogen: was mitgeht, was zurückkommt, was zuerst gefragt werden muss.</translation>
        </message>
        <message>
            <source>Where</source>
            <translation>Wo</translation>
        </message>
        <message>
            <source>Whose it is</source>
            <translation>Wessen es ist</translation>
        </message>
        <message>
            <source>Whose:</source>
            <translation>Wessen:</translation>
        </message>
        <message>
            <source>Why it is full</source>
            <translation>Warum er voll ist</translation>
        </message>
        <message>
            <source>Why {} is left</source>
            <translation>Warum {} gelassen wird</translation>
        </message>
        <message>
            <source>With {} the order would take {} along</source>
            <translation>Mit {} nähme der Auftrag {} mit</translation>
        </message>
        <message>
            <source>Without this carrier’s seal nothing of it is obeyed. swept-shelf take-over says what it holds.</source>
            <translation>Ohne das Siegel dieses Trägers gilt nichts davon. swept-shelf take-over sagt, was darin liegt.</translation>
        </message>
        <message>
            <source>Words only, until the survey is whole</source>
            <translation>Nur Wörter, bis die Aufnahme vollständig ist</translation>
        </message>
        <message>
            <source>Words, conditions like larger=200MB unused=1y, or a path: whose is it? Enter on a word that nothing here is called by looks whether anything of it is left</source>
            <translation>Wörter, Bedingungen wie larger=200MB unused=1y, oder ein Pfad: wessen ist er? Eingabe bei einem Wort, nach dem hier nichts heißt, sucht, ob noch etwas davon da ist</translation>
        </message>
        <message>
            <source>Working on the shelf.</source>
            <translation>Arbeitet an der Verwahrung.</translation>
        </message>
        <message>
            <source>Workshop, as the report has it</source>
            <translation>Werkstatt, wie sie im Bericht steht</translation>
        </message>
        <message>
            <source>Write the comparison</source>
            <translation>Den Vergleich schreiben</translation>
        </message>
        <message>
            <source>Write the inventory</source>
            <translation>Den Bestand schreiben</translation>
        </message>
        <message>
            <source>Write the question sheet</source>
            <translation>Den Fragebogen schreiben</translation>
        </message>
        <message>
            <source>Write the report</source>
            <translation>Den Bericht schreiben</translation>
        </message>
        <message>
            <source>Write the whole inventory as CycloneDX…</source>
            <translation>Den ganzen Bestand als CycloneDX schreiben…</translation>
        </message>
        <message>
            <source>Write the whole survey as JSON…</source>
            <translation>Die ganze Aufnahme als JSON schreiben…</translation>
        </message>
        <message>
            <source>Write what is shown as CSV…</source>
            <translation>Gezeigtes als CSV schreiben…</translation>
        </message>
        <message>
            <source>Write…</source>
            <translation>Schreiben…</translation>
        </message>
        <message>
            <source>Written</source>
            <translation>Geschrieben</translation>
        </message>
        <message>
            <source>Wrote {} into {}</source>
            <translation>{} nach {} geschrieben</translation>
        </message>
        <message>
            <source>Your name</source>
            <translation>Ihr Name</translation>
        </message>
        <message>
            <source>a block of settings is for it</source>
            <translation>ein Block von Einstellungen gilt ihm</translation>
        </message>
        <message>
            <source>a bookmark leads into its folder</source>
            <translation>ein Lesezeichen führt in seinen Ordner</translation>
        </message>
        <message>
            <source>a browser may start it</source>
            <translation>ein Browser darf es starten</translation>
        </message>
        <message>
            <source>a button in a panel</source>
            <translation>ein Knopf in einer Leiste</translation>
        </message>
        <message>
            <source>a certificate or key called like it</source>
            <translation>ein Zertifikat oder Schlüssel, das so heißt</translation>
        </message>
        <message>
            <source>a choice for {}</source>
            <translation>eine Auswahl für {}</translation>
        </message>
        <message>
            <source>a choice that leads to its program</source>
            <translation>eine Auswahl, die zu seinem Programm führt</translation>
        </message>
        <message>
            <source>a database called like it: only its server may remove it</source>
            <translation>eine Datenbank, die so heißt: nur ihr Server darf sie entfernen</translation>
        </message>
        <message>
            <source>a database in it carries the id that its program sets</source>
            <translation>eine Datenbank darin trägt die Kennung seines Programms</translation>
        </message>
        <message>
            <source>a default names its launcher</source>
            <translation>eine Vorgabe nennt seinen Starter</translation>
        </message>
        <message>
            <source>a driver of its is loaded</source>
            <translation>ein Treiber davon wird geladen</translation>
        </message>
        <message>
            <source>a file in it is held open by process {} ({})</source>
            <translation>eine Datei darin hält Prozess {} ({}) offen</translation>
        </message>
        <message>
            <source>a file manager offers it</source>
            <translation>ein Dateiverwalter bietet es an</translation>
        </message>
        <message>
            <source>a file moves</source>
            <translation>eine Datei bewegt sich</translation>
        </message>
        <message>
            <source>a job names it: {}</source>
            <translation>ein Zeitauftrag nennt es: {}</translation>
        </message>
        <message>
            <source>a job of anacron runs it</source>
            <translation>ein Auftrag von anacron startet es</translation>
        </message>
        <message>
            <source>a job of at starts it</source>
            <translation>ein Auftrag von at startet es</translation>
        </message>
        <message>
            <source>a job runs it: {}</source>
            <translation>ein Zeitauftrag startet es: {}</translation>
        </message>
        <message>
            <source>a key that may only start it</source>
            <translation>ein Schlüssel, der nur dies starten darf</translation>
        </message>
        <message>
            <source>a key, menu or action starts it</source>
            <translation>Taste, Menü oder Handlung startet es</translation>
        </message>
        <message>
            <source>a launcher in a panel</source>
            <translation>ein Starter in einer Leiste</translation>
        </message>
        <message>
            <source>a launcher in a panel or among favourites</source>
            <translation>ein Starter in einer Leiste oder unter den Favoriten</translation>
        </message>
        <message>
            <source>a link</source>
            <translation>ein Verweis</translation>
        </message>
        <message>
            <source>a link by which shells find it</source>
            <translation>ein Verweis, durch den Shells es finden</translation>
        </message>
        <message>
            <source>a link into its files</source>
            <translation>ein Verweis in seine Dateien</translation>
        </message>
        <message>
            <source>a link to {}</source>
            <translation>ein Verweis auf {}</translation>
        </message>
        <message>
            <source>a member of {}</source>
            <translation>ein Mitglied von {}</translation>
        </message>
        <message>
            <source>a note</source>
            <translation>eine Notiz</translation>
        </message>
        <message>
            <source>a person’s own</source>
            <translation>Eigenes einer Person</translation>
        </message>
        <message>
            <source>a person’s rights</source>
            <translation>den Rechten einer Person</translation>
        </message>
        <message>
            <source>a printer uses it</source>
            <translation>ein Drucker benutzt es</translation>
        </message>
        <message>
            <source>a profile that confines it</source>
            <translation>ein Profil, das es einschränkt</translation>
        </message>
        <message>
            <source>a program that no registry lists</source>
            <translation>ein Programm, das kein Verzeichnis nennt</translation>
        </message>
        <message>
            <source>a record of its crash</source>
            <translation>ein Bericht seines Absturzes</translation>
        </message>
        <message>
            <source>a rule is about its account</source>
            <translation>eine Regel betrifft sein Konto</translation>
        </message>
        <message>
            <source>a script that runs by itself starts it</source>
            <translation>ein von selbst laufendes Skript startet es</translation>
        </message>
        <message>
            <source>a unit is handed its socket</source>
            <translation>einer Unit wird sein Socket übergeben</translation>
        </message>
        <message>
            <source>a unit for another takes its name</source>
            <translation>eine Unit für anderes nimmt seinen Namen an</translation>
        </message>
        <message>
            <source>a unit watches it</source>
            <translation>eine Unit beobachtet es</translation>
        </message>
        <message>
            <source>rights for its account</source>
            <translation>Rechte für sein Konto</translation>
        </message>
        <message>
            <source>a unit needs its files</source>
            <translation>eine Unit braucht seine Dateien</translation>
        </message>
        <message>
            <source>a unit runs with its group</source>
            <translation>eine Unit läuft mit seiner Gruppe</translation>
        </message>
        <message>
            <source>a unit that is there for another starts it too</source>
            <translation>eine Unit für anderes startet es mit</translation>
        </message>
        <message>
            <source>a server gives it out</source>
            <translation>ein Server gibt es weiter</translation>
        </message>
        <message>
            <source>a server starts it</source>
            <translation>ein Server startet es</translation>
        </message>
        <message>
            <source>a service’s settings start it</source>
            <translation>Einstellungen eines Dienstes starten es</translation>
        </message>
        <message>
            <source>a session that starts it</source>
            <translation>eine Sitzung, die es startet</translation>
        </message>
        <message>
            <source>a setting leads to it</source>
            <translation>eine Einstellung führt dazu</translation>
        </message>
        <message>
            <source>a setting names it</source>
            <translation>eine Einstellung nennt es</translation>
        </message>
        <message>
            <source>a setting of the desktop names it</source>
            <translation>eine Einstellung der Arbeitsfläche nennt es</translation>
        </message>
        <message>
            <source>a source of its packages</source>
            <translation>eine Quelle seiner Pakete</translation>
        </message>
        <message>
            <source>a technician said so</source>
            <translation>jemand vom Fach sagte es</translation>
        </message>
        <message>
            <source>a tick</source>
            <translation>ein Häkchen</translation>
        </message>
        <message>
            <source>a tool of an editor</source>
            <translation>ein Werkzeug eines Editors</translation>
        </message>
        <message>
            <source>a tool's settings name it</source>
            <translation>Einstellungen eines Werkzeugs nennen es</translation>
        </message>
        <message>
            <source>a unit in place of its own</source>
            <translation>eine Unit statt seiner eigenen</translation>
        </message>
        <message>
            <source>a unit waits for it or wants it</source>
            <translation>eine Unit wartet darauf oder will es</translation>
        </message>
        <message>
            <source>a unit written by hand starts it</source>
            <translation>eine von Hand geschriebene Unit startet es</translation>
        </message>
        <message>
            <source>a volume is mounted with it</source>
            <translation>ein Datenträger wird damit eingehängt</translation>
        </message>
        <message>
            <source>about {} files and folders on {}</source>
            <translation>etwa {} Dateien und Ordner auf {}</translation>
        </message>
        <message>
            <source>access times are not kept (noatime)</source>
            <translation>Zugriffszeiten werden nicht geführt (noatime)</translation>
        </message>
        <message>
            <source>accounts</source>
            <translation>Konten</translation>
        </message>
        <message>
            <source>adds to {}</source>
            <translation>ergänzt {}</translation>
        </message>
        <message>
            <source>administrator</source>
            <translation>Verwaltung</translation>
        </message>
        <message>
            <source>all of {}</source>
            <translation>alles auf {}</translation>
        </message>
        <message>
            <source>all that changed</source>
            <translation>alles, was sich änderte</translation>
        </message>
        <message>
            <source>also here as {} ({})</source>
            <translation>auch hier als {} ({})</translation>
        </message>
        <message>
            <source>also used by {}</source>
            <translation>auch von {} benutzt</translation>
        </message>
        <message>
            <source>an action that starts it with rights</source>
            <translation>eine Handlung, die es mit Rechten startet</translation>
        </message>
        <message>
            <source>an addition to a unit starts it</source>
            <translation>ein Zusatz zu einer Unit startet es</translation>
        </message>
        <message>
            <source>an answer</source>
            <translation>eine Antwort</translation>
        </message>
        <message>
            <source>an application</source>
            <translation>eine Anwendung</translation>
        </message>
        <message>
            <source>an earlier visit: shown only</source>
            <translation>ein früherer Besuch: nur gezeigt</translation>
        </message>
        <message>
            <source>an instance is running</source>
            <translation>es läuft gerade</translation>
        </message>
        <message>
            <source>an upgrade may have made it anew</source>
            <translation>vielleicht von einer Erneuerung neu gemacht</translation>
        </message>
        <message>
            <source>and</source>
            <translation>und</translation>
        </message>
        <message>
            <source>and what is left behind of others</source>
            <translation>und was von anderen zurückblieb</translation>
        </message>
        <message>
            <source>and {} more</source>
            <translation>und {} weitere</translation>
        </message>
        <message>
            <source>and {} more packages</source>
            <translation>und {} weitere Pakete</translation>
        </message>
        <message>
            <source>and {} more: swept-shelf upkeep says all</source>
            <translation>und {} weitere: swept-shelf upkeep nennt alle</translation>
        </message>
        <message>
            <source>and {} more: the report has them</source>
            <translation>und {} weitere: der Bericht hat sie</translation>
        </message>
        <message>
            <source>another carrier works on this machine{}</source>
            <translation>ein anderer Träger arbeitet an diesem Rechner{}</translation>
        </message>
        <message>
            <source>another name of its unit</source>
            <translation>ein anderer Name seiner Unit</translation>
        </message>
        <message>
            <source>another name of one of its files</source>
            <translation>ein anderer Name einer seiner Dateien</translation>
        </message>
        <message>
            <source>another package tool holds the lock: {}</source>
            <translation>ein anderes Paketwerkzeug hält die Sperre: {}</translation>
        </message>
        <message>
            <source>another program knows it by this file</source>
            <translation>ein anderes Programm kennt es durch diese Datei</translation>
        </message>
        <message>
            <source>another program's settings start it</source>
            <translation>Einstellungen eines anderen Programms starten es</translation>
        </message>
        <message>
            <source>another program’s settings name it</source>
            <translation>Einstellungen eines anderen Programms nennen es</translation>
        </message>
        <message>
            <source>another program’s settings start it</source>
            <translation>Einstellungen eines anderen Programms starten es</translation>
        </message>
        <message>
            <source>another root than this computer’s</source>
            <translation>eine andere Wurzel als die dieses Rechners</translation>
        </message>
        <message>
            <source>another version of it is here</source>
            <translation>eine andere Fassung davon ist da</translation>
        </message>
        <message>
            <source>application</source>
            <translation>Anwendung</translation>
        </message>
        <message>
            <source>applications</source>
            <translation>Anwendungen</translation>
        </message>
        <message>
            <source>applications {}</source>
            <translation>Anwendungen {}</translation>
        </message>
        <message>
            <source>as an ordinary user homes of others stay closed; what could not be read is named, and sudo swept-shelf reads it</source>
            <translation>ohne besondere Rechte bleiben die Ordner anderer zu; was nicht lesbar war, wird genannt, und sudo swept-shelf liest es</translation>
        </message>
        <message>
            <source>as it was surveyed on {}</source>
            <translation>wie es am {} aufgenommen wurde</translation>
        </message>
        <message>
            <source>as the administrator everything can be read</source>
            <translation>mit den Rechten der Verwaltung kann alles gelesen werden</translation>
        </message>
        <message>
            <source>ask the owner</source>
            <translation>den Besitzer fragen</translation>
        </message>
        <message>
            <source>asked</source>
            <translation>verlangt</translation>
        </message>
        <message>
            <source>asked for</source>
            <translation>verlangt</translation>
        </message>
        <message>
            <source>asked for by</source>
            <translation>verlangt von</translation>
        </message>
        <message>
            <source>asked for by {}</source>
            <translation>verlangt von {}</translation>
        </message>
        <message>
            <source>asks for it</source>
            <translation>fragt danach</translation>
        </message>
        <message>
            <source>barely</source>
            <translation>kaum</translation>
        </message>
        <message>
            <source>belongs</source>
            <translation>gehört</translation>
        </message>
        <message>
            <source>between {} and {}</source>
            <translation>zwischen {} und {}</translation>
        </message>
        <message>
            <source>cache</source>
            <translation>Cache</translation>
        </message>
        <message>
            <source>cache written</source>
            <translation>Cache geschrieben</translation>
        </message>
        <message>
            <source>called like {}</source>
            <translation>heißt wie {}</translation>
        </message>
        <message>
            <source>called like {}, which is gone</source>
            <translation>heißt wie {}, das weg ist</translation>
        </message>
        <message>
            <source>called like {}, which is not there any more</source>
            <translation>heißt wie {}, das nicht mehr da ist</translation>
        </message>
        <message>
            <source>came since the last visit</source>
            <translation>kam seit dem letzten Besuch</translation>
        </message>
        <message>
            <source>can be installed again</source>
            <translation>kann wieder installiert werden</translation>
        </message>
        <message>
            <source>cancelled</source>
            <translation>abgebrochen</translation>
        </message>
        <message>
            <source>cannot be read: {}</source>
            <translation>kann nicht gelesen werden: {}</translation>
        </message>
        <message>
            <source>carrying out</source>
            <translation>wird ausgeführt</translation>
        </message>
        <message>
            <source>clear cache</source>
            <translation>Cache leeren</translation>
        </message>
        <message>
            <source>closed</source>
            <translation>geschlossen</translation>
        </message>
        <message>
            <source>closes</source>
            <translation>schließt</translation>
        </message>
        <message>
            <source>columns</source>
            <translation>Spalten</translation>
        </message>
        <message>
            <source>comes back</source>
            <translation>kommt zurück</translation>
        </message>
        <message>
            <source>common</source>
            <translation>gemeinsam</translation>
        </message>
        <message>
            <source>completes its command</source>
            <translation>ergänzt seinen Befehl</translation>
        </message>
        <message>
            <source>core dumps</source>
            <translation>Speicherabzüge</translation>
        </message>
        <message>
            <source>could not be read: {}</source>
            <translation>nicht lesbar: {}</translation>
        </message>
        <message>
            <source>could not look</source>
            <translation>nicht einsehbar</translation>
        </message>
        <message>
            <source>crash</source>
            <translation>Absturz</translation>
        </message>
        <message>
            <source>crash of {}</source>
            <translation>Absturz von {}</translation>
        </message>
        <message>
            <source>crash records</source>
            <translation>Absturzberichte</translation>
        </message>
        <message>
            <source>data written</source>
            <translation>Daten geschrieben</translation>
        </message>
        <message>
            <source>decides about its actions</source>
            <translation>entscheidet über seine Handlungen</translation>
        </message>
        <message>
            <source>declared</source>
            <translation>angegeben</translation>
        </message>
        <message>
            <source>delete the records</source>
            <translation>die Berichte löschen</translation>
        </message>
        <message>
            <source>delete them; they are fetched again</source>
            <translation>löschen; sie werden neu geholt</translation>
        </message>
        <message>
            <source>delete them; they are made again</source>
            <translation>löschen; sie werden neu gemacht</translation>
        </message>
        <message>
            <source>deleted but open</source>
            <translation>gelöscht, aber offen</translation>
        </message>
        <message>
            <source>deleted, still kept open</source>
            <translation>gelöscht, noch offen gehalten</translation>
        </message>
        <message>
            <source>describes its types of files</source>
            <translation>beschreibt seine Dateitypen</translation>
        </message>
        <message>
            <source>desktop</source>
            <translation>Arbeitsfläche</translation>
        </message>
        <message>
            <source>desktop programs</source>
            <translation>Programme der Arbeitsfläche</translation>
        </message>
        <message>
            <source>desktops and toolkits keep it for every program</source>
            <translation>Arbeitsflächen halten es für jedes Programm</translation>
        </message>
        <message>
            <source>desktops’ and toolkits’ {}</source>
            <translation>Gemeinsames der Arbeitsflächen {}</translation>
        </message>
        <message>
            <source>do not start it, but keep it</source>
            <translation>nicht starten, aber behalten</translation>
        </message>
        <message>
            <source>does not belong</source>
            <translation>gehört nicht</translation>
        </message>
        <message>
            <source>does not start by itself</source>
            <translation>startet nicht von selbst</translation>
        </message>
        <message>
            <source>done</source>
            <translation>getan</translation>
        </message>
        <message>
            <source>done before</source>
            <translation>schon getan</translation>
        </message>
        <message>
            <source>downloads</source>
            <translation>Geladenes</translation>
        </message>
        <message>
            <source>dpkg would remove {}, the order says {}</source>
            <translation>dpkg würde {} entfernen, der Auftrag sagt {}</translation>
        </message>
        <message>
            <source>drawn from the survey</source>
            <translation>gezogen aus der Aufnahme</translation>
        </message>
        <message>
            <source>each at most {}</source>
            <translation>je höchstens {}</translation>
        </message>
        <message>
            <source>emptied at the next start</source>
            <translation>beim nächsten Start geleert</translation>
        </message>
        <message>
            <source>empty</source>
            <translation>leer</translation>
        </message>
        <message>
            <source>empty the trash</source>
            <translation>den Papierkorb leeren</translation>
        </message>
        <message>
            <source>ended</source>
            <translation>beendet</translation>
        </message>
        <message>
            <source>ends in a run level</source>
            <translation>endet in einem Runlevel</translation>
        </message>
        <message>
            <source>every place that could still point at what went · looked at {}, {} s</source>
            <translation>jeder Ort, der noch auf Entferntes zeigen könnte · angesehen {}, {} s</translation>
        </message>
        <message>
            <source>everyone</source>
            <translation>alle</translation>
        </message>
        <message>
            <source>everything that could still point at it</source>
            <translation>alles, was noch darauf zeigen könnte</translation>
        </message>
        <message>
            <source>everything was installed since {}</source>
            <translation>alles wurde seit {} installiert</translation>
        </message>
        <message>
            <source>fairly</source>
            <translation>ziemlich</translation>
        </message>
        <message>
            <source>file</source>
            <translation>Datei</translation>
        </message>
        <message>
            <source>file types</source>
            <translation>Dateitypen</translation>
        </message>
        <message>
            <source>files</source>
            <translation>Dateien</translation>
        </message>
        <message>
            <source>files and folders</source>
            <translation>Dateien und Ordner</translation>
        </message>
        <message>
            <source>files of settings that name something</source>
            <translation>Einstellungsdateien, die etwas nennen</translation>
        </message>
        <message>
            <source>find…</source>
            <translation>finden…</translation>
        </message>
        <message>
            <source>folded</source>
            <translation>zugeklappt</translation>
        </message>
        <message>
            <source>folder</source>
            <translation>Ordner</translation>
        </message>
        <message>
            <source>fonts are looked for in its folder</source>
            <translation>Schriften werden in seinem Ordner gesucht</translation>
        </message>
        <message>
            <source>for all</source>
            <translation>für alle</translation>
        </message>
        <message>
            <source>from {}</source>
            <translation>von {}</translation>
        </message>
        <message>
            <source>gives more rights than when it was put on the shelf: it was left there</source>
            <translation>gibt mehr Rechte als beim Verwahren: es blieb dort</translation>
        </message>
        <message>
            <source>gone</source>
            <translation>weg</translation>
        </message>
        <message>
            <source>gone since {}</source>
            <translation>weg seit {}</translation>
        </message>
        <message>
            <source>grants its actions</source>
            <translation>erlaubt seine Handlungen</translation>
        </message>
        <message>
            <source>grouped</source>
            <translation>gruppiert</translation>
        </message>
        <message>
            <source>half configured</source>
            <translation>halb eingerichtet</translation>
        </message>
        <message>
            <source>has changed since it was surveyed: survey again, and it can be edited</source>
            <translation>hat sich seit der Aufnahme geändert: neu aufnehmen, dann geht es</translation>
        </message>
        <message>
            <source>has it open now</source>
            <translation>hat es jetzt offen</translation>
        </message>
        <message>
            <source>has nothing to carry out</source>
            <translation>hat nichts auszuführen</translation>
        </message>
        <message>
            <source>has {} free: the next kernel may not fit</source>
            <translation>hat {} frei: der nächste Kernel passt vielleicht nicht</translation>
        </message>
        <message>
            <source>held at its version</source>
            <translation>auf seiner Fassung festgehalten</translation>
        </message>
        <message>
            <source>here because of {}</source>
            <translation>hier wegen {}</translation>
        </message>
        <message>
            <source>holding shelf</source>
            <translation>Verwahrung</translation>
        </message>
        <message>
            <source>holds</source>
            <translation>Umfang</translation>
        </message>
        <message>
            <source>holds over {}</source>
            <translation>Umfang über {}</translation>
        </message>
        <message>
            <source>holds somebody’s own work: {}</source>
            <translation>enthält jemandes eigene Arbeit: {}</translation>
        </message>
        <message>
            <source>holds under {}</source>
            <translation>Umfang unter {}</translation>
        </message>
        <message>
            <source>in common</source>
            <translation>gemeinsam</translation>
        </message>
        <message>
            <source>in shared stores</source>
            <translation>in gemeinsamen Speichern</translation>
        </message>
        <message>
            <source>in the background</source>
            <translation>im Hintergrund</translation>
        </message>
        <message>
            <source>installed</source>
            <translation>installiert</translation>
        </message>
        <message>
            <source>installed since {}</source>
            <translation>installiert seit {}</translation>
        </message>
        <message>
            <source>interrupted</source>
            <translation>unterbrochen</translation>
        </message>
        <message>
            <source>inventory</source>
            <translation>Bestand</translation>
        </message>
        <message>
            <source>is a new link that leads elsewhere</source>
            <translation>ist ein neuer Verweis, der woanders hinführt</translation>
        </message>
        <message>
            <source>is about it, by its name</source>
            <translation>betrifft es, dem Namen nach</translation>
        </message>
        <message>
            <source>is also here as {} ({})</source>
            <translation>ist auch hier als {} ({})</translation>
        </message>
        <message>
            <source>is another {} than was surveyed</source>
            <translation>ist ein anderer {} als bei der Aufnahme</translation>
        </message>
        <message>
            <source>is anything left of…</source>
            <translation>ist noch etwas da von…</translation>
        </message>
        <message>
            <source>is called like its account</source>
            <translation>heißt wie sein Konto</translation>
        </message>
        <message>
            <source>is common to many programs and never part of an order</source>
            <translation>ist vielen Programmen gemeinsam und nie Teil eines Auftrags</translation>
        </message>
        <message>
            <source>is done only where it is there</source>
            <translation>geschieht nur, wo es da ist</translation>
        </message>
        <message>
            <source>is empty: no package can be listed</source>
            <translation>ist leer: kein Paket kann gelistet werden</translation>
        </message>
        <message>
            <source>is fetched or made again ({})</source>
            <translation>wird wieder geholt oder gemacht ({})</translation>
        </message>
        <message>
            <source>is locked by a process that does not end</source>
            <translation>ist von einem nicht endenden Prozess gesperrt</translation>
        </message>
        <message>
            <source>is made or set at every start</source>
            <translation>wird bei jedem Start gemacht</translation>
        </message>
        <message>
            <source>is new and called like another application</source>
            <translation>ist neu und heißt wie eine andere Anwendung</translation>
        </message>
        <message>
            <source>is new and may be a person’s own work</source>
            <translation>ist neu und vielleicht eigene Arbeit einer Person</translation>
        </message>
        <message>
            <source>is new or changed since it was surveyed</source>
            <translation>ist neu oder seit der Aufnahme geändert</translation>
        </message>
        <message>
            <source>is not a regular file</source>
            <translation>ist keine gewöhnliche Datei</translation>
        </message>
        <message>
            <source>is not there</source>
            <translation>ist nicht da</translation>
        </message>
        <message>
            <source>is put aside</source>
            <translation>ist beiseite gelegt</translation>
        </message>
        <message>
            <source>is running</source>
            <translation>läuft</translation>
        </message>
        <message>
            <source>is started for a device</source>
            <translation>wird für ein Gerät gestartet</translation>
        </message>
        <message>
            <source>is started for each connection</source>
            <translation>wird für jede Verbindung gestartet</translation>
        </message>
        <message>
            <source>is started when a log is turned over</source>
            <translation>wird beim Wechsel eines Protokolls gestartet</translation>
        </message>
        <message>
            <source>is started with rights</source>
            <translation>wird mit Rechten gestartet</translation>
        </message>
        <message>
            <source>is still there</source>
            <translation>ist noch da</translation>
        </message>
        <message>
            <source>is the session that was chosen</source>
            <translation>ist die gewählte Sitzung</translation>
        </message>
        <message>
            <source>is there</source>
            <translation>ist da</translation>
        </message>
        <message>
            <source>is there again</source>
            <translation>ist wieder da</translation>
        </message>
        <message>
            <source>is written so that no single line can be taken out</source>
            <translation>ist so geschrieben, dass keine Zeile allein herausgeht</translation>
        </message>
        <message>
            <source>it is held open by process {} ({})</source>
            <translation>Prozess {} ({}) hält es offen</translation>
        </message>
        <message>
            <source>it is one of the two newest kernels: one to start with, one to go back to</source>
            <translation>es ist einer der zwei neuesten Kernel: einer zum Starten, einer als Rückweg</translation>
        </message>
        <message>
            <source>it is still being looked for</source>
            <translation>es wird noch gesucht</translation>
        </message>
        <message>
            <source>it is the kernel that runs now</source>
            <translation>es ist der Kernel, der jetzt läuft</translation>
        </message>
        <message>
            <source>it is the kernel the computer starts with</source>
            <translation>es ist der Kernel, mit dem der Rechner startet</translation>
        </message>
        <message>
            <source>it is the only kernel of this computer</source>
            <translation>es ist der einzige Kernel dieses Rechners</translation>
        </message>
        <message>
            <source>it is too large for us: look into it by hand</source>
            <translation>es ist zu groß für uns: von Hand ansehen</translation>
        </message>
        <message>
            <source>it shows no use within a year</source>
            <translation>es zeigt ein Jahr lang keine Benutzung</translation>
        </message>
        <message>
            <source>its bus name</source>
            <translation>sein Busname</translation>
        </message>
        <message>
            <source>its content names it</source>
            <translation>der Inhalt nennt es</translation>
        </message>
        <message>
            <source>its content names {}, which is not there any more</source>
            <translation>sein Inhalt nennt {}, das nicht mehr da ist</translation>
        </message>
        <message>
            <source>its folder</source>
            <translation>sein Ordner</translation>
        </message>
        <message>
            <source>its folder is searched</source>
            <translation>sein Ordner wird durchsucht</translation>
        </message>
        <message>
            <source>its launcher</source>
            <translation>sein Starter</translation>
        </message>
        <message>
            <source>its log is turned over</source>
            <translation>sein Protokoll wird gewechselt</translation>
        </message>
        <message>
            <source>its messages are routed</source>
            <translation>seine Meldungen werden geleitet</translation>
        </message>
        <message>
            <source>its messages or files are watched</source>
            <translation>seine Meldungen oder Dateien werden beobachtet</translation>
        </message>
        <message>
            <source>its module is built with each kernel</source>
            <translation>sein Modul wird mit jedem Kernel gebaut</translation>
        </message>
        <message>
            <source>its name</source>
            <translation>sein Name</translation>
        </message>
        <message>
            <source>its name stands inside its program</source>
            <translation>sein Name steht in seinem Programm</translation>
        </message>
        <message>
            <source>its owner</source>
            <translation>sein Eigentümer</translation>
        </message>
        <message>
            <source>its owner and mode are kept</source>
            <translation>sein Eigentümer und seine Rechte sind festgehalten</translation>
        </message>
        <message>
            <source>its owner unlocks it: administrator rights are not enough there</source>
            <translation>nur der Eigentümer gibt es frei: die Rechte der Verwaltung genügen dort nicht</translation>
        </message>
        <message>
            <source>its package</source>
            <translation>sein Paket</translation>
        </message>
        <message>
            <source>its package is marked as protected: the computer may not start without it</source>
            <translation>sein Paket ist als geschützt gekennzeichnet: ohne es startet der Rechner vielleicht nicht</translation>
        </message>
        <message>
            <source>its package is part of the base system (priority {})</source>
            <translation>sein Paket ist Teil des Grundsystems (Priorität {})</translation>
        </message>
        <message>
            <source>its package is still needed</source>
            <translation>sein Paket wird noch gebraucht</translation>
        </message>
        <message>
            <source>its package moved it to {}</source>
            <translation>sein Paket verlegte es nach {}</translation>
        </message>
        <message>
            <source>its package {} stays</source>
            <translation>sein Paket {} bleibt</translation>
        </message>
        <message>
            <source>its package’s script makes it or takes it away</source>
            <translation>das Skript seines Pakets macht es oder nimmt es weg</translation>
        </message>
        <message>
            <source>its program</source>
            <translation>sein Programm</translation>
        </message>
        <message>
            <source>its registry owns it</source>
            <translation>es gehört seinem Verzeichnis</translation>
        </message>
        <message>
            <source>its registry still has it</source>
            <translation>sein Verzeichnis hat es noch</translation>
        </message>
        <message>
            <source>its removal would take {} along: {}</source>
            <translation>es nähme {} mit: {}</translation>
        </message>
        <message>
            <source>its version is pinned</source>
            <translation>seine Fassung ist festgehalten</translation>
        </message>
        <message>
            <source>its window</source>
            <translation>sein Fenster</translation>
        </message>
        <message>
            <source>journal</source>
            <translation>Protokoll</translation>
        </message>
        <message>
            <source>keep</source>
            <translation>behalten</translation>
        </message>
        <message>
            <source>keep it</source>
            <translation>behalten</translation>
        </message>
        <message>
            <source>keeps a part of it</source>
            <translation>hält einen Teil davon</translation>
        </message>
        <message>
            <source>kept as a settings file of its package</source>
            <translation>als Einstellungsdatei seines Pakets behalten</translation>
        </message>
        <message>
            <source>kept on purpose: its purge would take {} along</source>
            <translation>mit Absicht behalten: sein Vergessen nähme {} mit</translation>
        </message>
        <message>
            <source>kernel modules built from its sources</source>
            <translation>Kernelmodule aus seinen Quellen</translation>
        </message>
        <message>
            <source>keys 1 to {} answer it</source>
            <translation>Tasten 1 bis {} antworten</translation>
        </message>
        <message>
            <source>keys start it</source>
            <translation>Tasten starten es</translation>
        </message>
        <message>
            <source>kind</source>
            <translation>Art</translation>
        </message>
        <message>
            <source>last use {} known</source>
            <translation>letzte Benutzung {} bekannt</translation>
        </message>
        <message>
            <source>last used</source>
            <translation>zuletzt benutzt</translation>
        </message>
        <message>
            <source>last used {}{}</source>
            <translation>zuletzt benutzt {}{}</translation>
        </message>
        <message>
            <source>last used {}{} ({})</source>
            <translation>zuletzt benutzt {}{} ({})</translation>
        </message>
        <message>
            <source>launchers</source>
            <translation>Starter</translation>
        </message>
        <message>
            <source>leads there</source>
            <translation>führt dorthin</translation>
        </message>
        <message>
            <source>leads to its file {}</source>
            <translation>führt zu seiner Datei {}</translation>
        </message>
        <message>
            <source>leads to its program</source>
            <translation>führt zu seinem Programm</translation>
        </message>
        <message>
            <source>left</source>
            <translation>nicht angerührt</translation>
        </message>
        <message>
            <source>left behind</source>
            <translation>zurückgelassen</translation>
        </message>
        <message>
            <source>left behind by what was removed before</source>
            <translation>von früher Entferntem zurückgelassen</translation>
        </message>
        <message>
            <source>left behind {}</source>
            <translation>Zurückgelassenes {}</translation>
        </message>
        <message>
            <source>left by {}</source>
            <translation>zurückgelassen von {}</translation>
        </message>
        <message>
            <source>left on purpose</source>
            <translation>mit Absicht gelassen</translation>
        </message>
        <message>
            <source>left out</source>
            <translation>ausgelassen</translation>
        </message>
        <message>
            <source>less</source>
            <translation>weniger</translation>
        </message>
        <message>
            <source>libraries are looked for in its folder</source>
            <translation>Bibliotheken werden in seinem Ordner gesucht</translation>
        </message>
        <message>
            <source>lie within two days of each other</source>
            <translation>liegen keine zwei Tage auseinander</translation>
        </message>
        <message>
            <source>lies in a folder that several use</source>
            <translation>liegt in einem Ordner, den mehrere benutzen</translation>
        </message>
        <message>
            <source>lies in its folder</source>
            <translation>liegt in seinem Ordner</translation>
        </message>
        <message>
            <source>lies in the home and no application claims it</source>
            <translation>liegt im Benutzerordner, und keine Anwendung beansprucht es</translation>
        </message>
        <message>
            <source>lies in {}: {}</source>
            <translation>liegt in {}: {}</translation>
        </message>
        <message>
            <source>lies inside its program’s own folder</source>
            <translation>liegt im eigenen Ordner seines Programms</translation>
        </message>
        <message>
            <source>line {}</source>
            <translation>Zeile {}</translation>
        </message>
        <message>
            <source>link</source>
            <translation>Verweis</translation>
        </message>
        <message>
            <source>listed as a shell</source>
            <translation>als Shell gelistet</translation>
        </message>
        <message>
            <source>listed as opened with it</source>
            <translation>als damit geöffnet gelistet</translation>
        </message>
        <message>
            <source>listed by its package</source>
            <translation>von seinem Paket gelistet</translation>
        </message>
        <message>
            <source>listed by {}</source>
            <translation>gelistet von {}</translation>
        </message>
        <message>
            <source>lists of documents that people opened</source>
            <translation>Listen der geöffneten Dokumente</translation>
        </message>
        <message>
            <source>loads or sets its module</source>
            <translation>lädt oder stellt sein Modul</translation>
        </message>
        <message>
            <source>log</source>
            <translation>Protokoll</translation>
        </message>
        <message>
            <source>log written</source>
            <translation>Protokoll geschrieben</translation>
        </message>
        <message>
            <source>logs</source>
            <translation>Protokolle</translation>
        </message>
        <message>
            <source>look again with administrator rights</source>
            <translation>noch einmal mit den Rechten der Verwaltung ansehen</translation>
        </message>
        <message>
            <source>look again with administrator rights{}</source>
            <translation>noch einmal mit den Rechten der Verwaltung ansehen{}</translation>
        </message>
        <message>
            <source>looked at {} of sign</source>
            <translation>{} angesehen</translation>
        </message>
        <message>
            <source>looked at {}, {} s</source>
            <translation>angesehen {}, {} s</translation>
        </message>
        <message>
            <source>looked at: {}</source>
            <translation>angesehen: {}</translation>
        </message>
        <message>
            <source>looked only</source>
            <translation>nur angesehen</translation>
        </message>
        <message>
            <source>looking at {} · step {} of {}</source>
            <translation>sieht nach: {} · Schritt {} von {}</translation>
        </message>
        <message>
            <source>looking needs no password</source>
            <translation>Ansehen braucht kein Kennwort</translation>
        </message>
        <message>
            <source>made for it, goes with its package</source>
            <translation>dafür gemacht, geht mit seinem Paket</translation>
        </message>
        <message>
            <source>made for it: {} of the system</source>
            <translation>dafür gemacht: {} des Systems</translation>
        </message>
        <message>
            <source>made with it by somebody: stays</source>
            <translation>von jemandem damit gemacht: bleibt</translation>
        </message>
        <message>
            <source>mail is handed to it</source>
            <translation>Post wird ihm übergeben</translation>
        </message>
        <message>
            <source>makes thumbnails by it</source>
            <translation>macht Vorschaubilder damit</translation>
        </message>
        <message>
            <source>many files were read then: a backup or an indexer</source>
            <translation>damals wurden viele Dateien gelesen: Sicherung oder Suchdienst</translation>
        </message>
        <message>
            <source>masks its unit</source>
            <translation>verdeckt seine Unit</translation>
        </message>
        <message>
            <source>matched</source>
            <translation>nach Namen</translation>
        </message>
        <message>
            <source>may be started with rights</source>
            <translation>darf mit Rechten gestartet werden</translation>
        </message>
        <message>
            <source>may not be read</source>
            <translation>darf nicht gelesen werden</translation>
        </message>
        <message>
            <source>more</source>
            <translation>mehr</translation>
        </message>
        <message>
            <source>mount the volume that it lies on, or unlock it, and look again</source>
            <translation>den Datenträger einhängen oder entsperren und noch einmal ansehen</translation>
        </message>
        <message>
            <source>mounts</source>
            <translation>Einhängungen</translation>
        </message>
        <message>
            <source>move data</source>
            <translation>Daten verlegen</translation>
        </message>
        <message>
            <source>must be settled first: {}</source>
            <translation>ist zuerst zu klären: {}</translation>
        </message>
        <message>
            <source>named in a menu</source>
            <translation>in einem Menü genannt</translation>
        </message>
        <message>
            <source>named in its package’s script</source>
            <translation>im Skript seines Pakets genannt</translation>
        </message>
        <message>
            <source>named in its unit</source>
            <translation>in seiner Unit genannt</translation>
        </message>
        <message>
            <source>named in {}</source>
            <translation>genannt in {}</translation>
        </message>
        <message>
            <source>named in {} more</source>
            <translation>genannt in {} mehr</translation>
        </message>
        <message>
            <source>named in {} more, which count in no sum: {}</source>
            <translation>genannt in {} mehr, die in keiner Summe zählen: {}</translation>
        </message>
        <message>
            <source>named in {}, which is the system’s</source>
            <translation>in {} genannt, das dem System gehört</translation>
        </message>
        <message>
            <source>a cache with its name in it</source>
            <translation>ein Zwischenspeicher mit seinem Namen darin</translation>
        </message>
        <message>
            <source>left empty by this order</source>
            <translation>durch diesen Auftrag leer</translation>
        </message>
        <message>
            <source>something lies in it</source>
            <translation>es liegt etwas darin</translation>
        </message>
        <message>
            <source>its data as it was when its successor came</source>
            <translation>seine Daten, wie sie waren, als die nächste Fassung kam</translation>
        </message>
        <message>
            <source>named inside its program</source>
            <translation>in seinem Programm genannt</translation>
        </message>
        <message>
            <source>named only, never part of an order</source>
            <translation>nur genannt, nie Teil eines Auftrags</translation>
        </message>
        <message>
            <source>names a place of it</source>
            <translation>nennt einen Ort davon</translation>
        </message>
        <message>
            <source>names it</source>
            <translation>nennt es</translation>
        </message>
        <message>
            <source>names its service or account</source>
            <translation>nennt seinen Dienst oder sein Konto</translation>
        </message>
        <message>
            <source>needed</source>
            <translation>gebraucht</translation>
        </message>
        <message>
            <source>needed by nothing else</source>
            <translation>sonst von nichts gebraucht</translation>
        </message>
        <message>
            <source>needed by others</source>
            <translation>von anderen gebraucht</translation>
        </message>
        <message>
            <source>needed by {}</source>
            <translation>gebraucht von {}</translation>
        </message>
        <message>
            <source>needs rights that are not there: {}</source>
            <translation>braucht fehlende Rechte: {}</translation>
        </message>
        <message>
            <source>never</source>
            <translation>nie</translation>
        </message>
        <message>
            <source>new</source>
            <translation>neu</translation>
        </message>
        <message>
            <source>no application</source>
            <translation>keine Anwendung</translation>
        </message>
        <message>
            <source>no application known</source>
            <translation>keine Anwendung bekannt</translation>
        </message>
        <message>
            <source>no configured source offers it</source>
            <translation>keine eingestellte Quelle bietet es an</translation>
        </message>
        <message>
            <source>no description</source>
            <translation>ohne Beschreibung</translation>
        </message>
        <message>
            <source>no file stands where one should: see what it is, and take it away</source>
            <translation>dort steht keine Datei: ansehen, was es ist, und wegnehmen</translation>
        </message>
        <message>
            <source>no inodes</source>
            <translation>keine Inodes</translation>
        </message>
        <message>
            <source>no journal is kept</source>
            <translation>kein Protokoll wird geführt</translation>
        </message>
        <message>
            <source>no longer there</source>
            <translation>nicht mehr da</translation>
        </message>
        <message>
            <source>no order between the two</source>
            <translation>kein Auftrag dazwischen</translation>
        </message>
        <message>
            <source>no original of {} is kept</source>
            <translation>von {} wird kein Original verwahrt</translation>
        </message>
        <message>
            <source>no package lists it; it lies where the system works</source>
            <translation>kein Paket listet es; es liegt, wo das System arbeitet</translation>
        </message>
        <message>
            <source>no registry</source>
            <translation>kein Verzeichnis</translation>
        </message>
        <message>
            <source>no registry knows who asked for it</source>
            <translation>kein Verzeichnis weiß, wer es verlangte</translation>
        </message>
        <message>
            <source>no registry lists it and no application claims it</source>
            <translation>kein Verzeichnis listet es, und keine Anwendung beansprucht es</translation>
        </message>
        <message>
            <source>no sign</source>
            <translation>kein Zeichen</translation>
        </message>
        <message>
            <source>no sign of use</source>
            <translation>kein Zeichen von Benutzung</translation>
        </message>
        <message>
            <source>no sign of use (looked at: {})</source>
            <translation>kein Zeichen von Benutzung (angesehen: {})</translation>
        </message>
        <message>
            <source>no sign that anybody used it</source>
            <translation>kein Zeichen, dass jemand es benutzte</translation>
        </message>
        <message>
            <source>no visit knows it: the name alone</source>
            <translation>kein Besuch kennt es: nur der Name</translation>
        </message>
        <message>
            <source>nobody</source>
            <translation>niemand</translation>
        </message>
        <message>
            <source>nobody alone</source>
            <translation>niemand allein</translation>
        </message>
        <message>
            <source>nobody known</source>
            <translation>niemand bekannt</translation>
        </message>
        <message>
            <source>nobody was logged in then</source>
            <translation>damals war niemand angemeldet</translation>
        </message>
        <message>
            <source>nobody’s</source>
            <translation>niemandes</translation>
        </message>
        <message>
            <source>nobody’s own</source>
            <translation>niemandes</translation>
        </message>
        <message>
            <source>nobody’s {}</source>
            <translation>niemandes {}</translation>
        </message>
        <message>
            <source>none</source>
            <translation>keine</translation>
        </message>
        <message>
            <source>none changed</source>
            <translation>keiner geändert</translation>
        </message>
        <message>
            <source>none found</source>
            <translation>keine gefunden</translation>
        </message>
        <message>
            <source>none is over {}</source>
            <translation>keine über {}</translation>
        </message>
        <message>
            <source>not a text: it begins with {}</source>
            <translation>kein Text: es beginnt mit {}</translation>
        </message>
        <message>
            <source>not an application’s</source>
            <translation>keiner Anwendung</translation>
        </message>
        <message>
            <source>not asked for</source>
            <translation>nicht verlangt</translation>
        </message>
        <message>
            <source>not installed</source>
            <translation>nicht installiert</translation>
        </message>
        <message>
            <source>not known</source>
            <translation>nicht bekannt</translation>
        </message>
        <message>
            <source>not looked at yet</source>
            <translation>noch nicht angesehen</translation>
        </message>
        <message>
            <source>not ours: left alone</source>
            <translation>nicht unseres: nicht angerührt</translation>
        </message>
        <message>
            <source>not part of this line</source>
            <translation>kein Teil dieser Zeile</translation>
        </message>
        <message>
            <source>not protected</source>
            <translation>nicht geschützt</translation>
        </message>
        <message>
            <source>not running</source>
            <translation>läuft nicht</translation>
        </message>
        <message>
            <source>not surveyed to the end</source>
            <translation>nicht zu Ende aufgenommen</translation>
        </message>
        <message>
            <source>not ticked</source>
            <translation>nicht angekreuzt</translation>
        </message>
        <message>
            <source>not used since {}</source>
            <translation>nicht benutzt seit {}</translation>
        </message>
        <message>
            <source>nothing</source>
            <translation>nichts</translation>
        </message>
        <message>
            <source>nothing back yet</source>
            <translation>noch nichts zurück</translation>
        </message>
        <message>
            <source>nothing below it</source>
            <translation>nichts darunter</translation>
        </message>
        <message>
            <source>nothing changed</source>
            <translation>nichts geändert</translation>
        </message>
        <message>
            <source>nothing else needs it</source>
            <translation>sonst braucht es nichts</translation>
        </message>
        <message>
            <source>nothing in hand</source>
            <translation>nichts in der Hand</translation>
        </message>
        <message>
            <source>nothing is removed through {}</source>
            <translation>durch {} wird nichts entfernt</translation>
        </message>
        <message>
            <source>nothing leads to it any more</source>
            <translation>nichts führt mehr dorthin</translation>
        </message>
        <message>
            <source>nothing looked for yet</source>
            <translation>noch nichts gesucht</translation>
        </message>
        <message>
            <source>nothing new points at an application</source>
            <translation>nichts zeigt neu auf eine Anwendung</translation>
        </message>
        <message>
            <source>nothing of it runs any more</source>
            <translation>nichts davon läuft mehr</translation>
        </message>
        <message>
            <source>nothing of it was touched</source>
            <translation>nichts davon wurde angerührt</translation>
        </message>
        <message>
            <source>nothing points at an application</source>
            <translation>nichts zeigt auf eine Anwendung</translation>
        </message>
        <message>
            <source>nothing points at it</source>
            <translation>nichts zeigt darauf</translation>
        </message>
        <message>
            <source>nothing says what it is</source>
            <translation>nichts sagt, was es ist</translation>
        </message>
        <message>
            <source>nothing stands there</source>
            <translation>dort steht nichts</translation>
        </message>
        <message>
            <source>nothing was found</source>
            <translation>nichts wurde gefunden</translation>
        </message>
        <message>
            <source>nothing: whoever looks sees every volume read-only, and no time of a file moves</source>
            <translation>nichts: wer nachsieht, sieht jeden Datenträger nur lesend, und keine Zeit einer Datei ändert sich</translation>
        </message>
        <message>
            <source>now</source>
            <translation>jetzt</translation>
        </message>
        <message>
            <source>now {}</source>
            <translation>jetzt {}</translation>
        </message>
        <message>
            <source>of applications</source>
            <translation>von Anwendungen</translation>
        </message>
        <message>
            <source>of it shows no use within a year, and nothing else needs it.</source>
            <translation>davon zeigen ein Jahr lang keine Benutzung, und sonst braucht es nichts.</translation>
        </message>
        <message>
            <source>of nobody known</source>
            <translation>von niemand Bekanntem</translation>
        </message>
        <message>
            <source>of programs in common</source>
            <translation>Programmen gemeinsam</translation>
        </message>
        <message>
            <source>of {}</source>
            <translation>von {}</translation>
        </message>
        <message>
            <source>older kernels</source>
            <translation>ältere Kernel</translation>
        </message>
        <message>
            <source>older revision {} of {}</source>
            <translation>ältere Ausgabe {} von {}</translation>
        </message>
        <message>
            <source>older revisions</source>
            <translation>ältere Ausgaben</translation>
        </message>
        <message>
            <source>older than its installation</source>
            <translation>älter als seine Installation</translation>
        </message>
        <message>
            <source>on the shelf</source>
            <translation>in der Verwahrung</translation>
        </message>
        <message>
            <source>only {}</source>
            <translation>nur {}</translation>
        </message>
        <message>
            <source>only {} says so</source>
            <translation>nur {} sagt es</translation>
        </message>
        <message>
            <source>open</source>
            <translation>offen</translation>
        </message>
        <message>
            <source>open here</source>
            <translation>hier geöffnet</translation>
        </message>
        <message>
            <source>open in process {}</source>
            <translation>offen in Prozess {}</translation>
        </message>
        <message>
            <source>opens</source>
            <translation>öffnet</translation>
        </message>
        <message>
            <source>or</source>
            <translation>oder</translation>
        </message>
        <message>
            <source>or leave it, because…</source>
            <translation>oder lassen, weil…</translation>
        </message>
        <message>
            <source>order {}</source>
            <translation>Auftrag {}</translation>
        </message>
        <message>
            <source>order {} · {}</source>
            <translation>Auftrag {} · {}</translation>
        </message>
        <message>
            <source>order {}: {} came back</source>
            <translation>Auftrag {}: {} kamen zurück</translation>
        </message>
        <message>
            <source>other place</source>
            <translation>anderer Ort</translation>
        </message>
        <message>
            <source>other programs</source>
            <translation>andere Programme</translation>
        </message>
        <message>
            <source>others</source>
            <translation>andere</translation>
        </message>
        <message>
            <source>over 1 MB</source>
            <translation>über 1 MB</translation>
        </message>
        <message>
            <source>over 100 MB</source>
            <translation>über 100 MB</translation>
        </message>
        <message>
            <source>over {}</source>
            <translation>über {}</translation>
        </message>
        <message>
            <source>owned by {}, the user made for it</source>
            <translation>gehört {}, dem dafür angelegten Konto</translation>
        </message>
        <message>
            <source>owner and mode set to {}</source>
            <translation>Eigentümer und Rechte gesetzt auf {}</translation>
        </message>
        <message>
            <source>package downloads</source>
            <translation>heruntergeladene Pakete</translation>
        </message>
        <message>
            <source>package lists</source>
            <translation>Paketlisten</translation>
        </message>
        <message>
            <source>part of the system</source>
            <translation>Teil des Systems</translation>
        </message>
        <message>
            <source>parts read</source>
            <translation>Teile gelesen</translation>
        </message>
        <message>
            <source>people log in with it</source>
            <translation>die Leute melden sich damit an</translation>
        </message>
        <message>
            <source>people's desktop session is started by it</source>
            <translation>die Sitzungen der Leute werden davon gestartet</translation>
        </message>
        <message>
            <source>people’s own</source>
            <translation>Eigenes der Leute</translation>
        </message>
        <message>
            <source>people’s own files {}</source>
            <translation>eigene Dateien der Leute {}</translation>
        </message>
        <message>
            <source>people’s own work: stays</source>
            <translation>eigene Arbeit der Leute: bleibt</translation>
        </message>
        <message>
            <source>person</source>
            <translation>Person</translation>
        </message>
        <message>
            <source>personal</source>
            <translation>persönlich</translation>
        </message>
        <message>
            <source>place</source>
            <translation>Ort</translation>
        </message>
        <message>
            <source>places</source>
            <translation>Orte</translation>
        </message>
        <message>
            <source>places that packages made</source>
            <translation>Orte, die Pakete machten</translation>
        </message>
        <message>
            <source>points at {}: {}</source>
            <translation>zeigt auf {}: {}</translation>
        </message>
        <message>
            <source>preferences</source>
            <translation>Einstellungen</translation>
        </message>
        <message>
            <source>preferences written</source>
            <translation>Einstellungen geschrieben</translation>
        </message>
        <message>
            <source>processes</source>
            <translation>Prozesse</translation>
        </message>
        <message>
            <source>program</source>
            <translation>Programm</translation>
        </message>
        <message>
            <source>program read</source>
            <translation>Programm gelesen</translation>
        </message>
        <message>
            <source>programs</source>
            <translation>Programme</translation>
        </message>
        <message>
            <source>programs in common</source>
            <translation>Programmen gemeinsam</translation>
        </message>
        <message>
            <source>promised by the order, measured on the volume</source>
            <translation>im Auftrag versprochen, am Datenträger gemessen</translation>
        </message>
        <message>
            <source>protected</source>
            <translation>geschützt</translation>
        </message>
        <message>
            <source>published by {}</source>
            <translation>herausgegeben von {}</translation>
        </message>
        <message>
            <source>publisher</source>
            <translation>Herausgeber</translation>
        </message>
        <message>
            <source>publisher not known</source>
            <translation>Herausgeber nicht bekannt</translation>
        </message>
        <message>
            <source>pulled in</source>
            <translation>mitgekommen</translation>
        </message>
        <message>
            <source>pulled in: {}</source>
            <translation>mitgekommen: {}</translation>
        </message>
        <message>
            <source>put back</source>
            <translation>zurückgestellt</translation>
        </message>
        <message>
            <source>read as it was installed or upgraded</source>
            <translation>beim Installieren oder Erneuern gelesen</translation>
        </message>
        <message>
            <source>reads one of its files, or what it says</source>
            <translation>liest eine seiner Dateien oder was es sagt</translation>
        </message>
        <message>
            <source>recents</source>
            <translation>Zuletzt</translation>
        </message>
        <message>
            <source>registered</source>
            <translation>verzeichnet</translation>
        </message>
        <message>
            <source>registered with {}</source>
            <translation>verzeichnet bei {}</translation>
        </message>
        <message>
            <source>registered: listed by its package</source>
            <translation>verzeichnet: von seinem Paket gelistet</translation>
        </message>
        <message>
            <source>registry</source>
            <translation>Verzeichnis</translation>
        </message>
        <message>
            <source>remove</source>
            <translation>entfernen</translation>
        </message>
        <message>
            <source>remove it</source>
            <translation>entfernen</translation>
        </message>
        <message>
            <source>remove it and its content</source>
            <translation>mit Inhalt entfernen</translation>
        </message>
        <message>
            <source>removed, its settings are still known</source>
            <translation>entfernt, seine Einstellungen sind noch verzeichnet</translation>
        </message>
        <message>
            <source>running</source>
            <translation>läuft</translation>
        </message>
        <message>
            <source>runs in the background</source>
            <translation>läuft im Hintergrund</translation>
        </message>
        <message>
            <source>runtimes</source>
            <translation>Laufzeitumgebungen</translation>
        </message>
        <message>
            <source>saved games</source>
            <translation>Spielstände</translation>
        </message>
        <message>
            <source>says something else than was surveyed</source>
            <translation>sagt anderes als bei der Aufnahme</translation>
        </message>
        <message>
            <source>says whether its unit starts</source>
            <translation>sagt, ob seine Unit startet</translation>
        </message>
        <message>
            <source>schedules</source>
            <translation>Zeitpläne</translation>
        </message>
        <message>
            <source>scripts</source>
            <translation>Skripte</translation>
        </message>
        <message>
            <source>seconds for a small system, a minute for a large one</source>
            <translation>Sekunden für ein kleines System, eine Minute für ein großes</translation>
        </message>
        <message>
            <source>security</source>
            <translation>Sicherheit</translation>
        </message>
        <message>
            <source>seen</source>
            <translation>gesehen</translation>
        </message>
        <message>
            <source>services</source>
            <translation>Dienste</translation>
        </message>
        <message>
            <source>set aside: {}</source>
            <translation>beiseite gelegt: {}</translation>
        </message>
        <message>
            <source>sets its profile aside</source>
            <translation>setzt sein Profil außer Kraft</translation>
        </message>
        <message>
            <source>settings file</source>
            <translation>Einstellungsdatei</translation>
        </message>
        <message>
            <source>settings file of its package</source>
            <translation>Einstellungsdatei seines Pakets</translation>
        </message>
        <message>
            <source>several people</source>
            <translation>mehrere Leute</translation>
        </message>
        <message>
            <source>several programs use it: nobody’s alone</source>
            <translation>mehrere Programme benutzen es: niemandes allein</translation>
        </message>
        <message>
            <source>several programs were read in the same moment</source>
            <translation>mehrere Programme wurden im selben Augenblick gelesen</translation>
        </message>
        <message>
            <source>shared</source>
            <translation>geteilt</translation>
        </message>
        <message>
            <source>shared store</source>
            <translation>gemeinsamer Speicher</translation>
        </message>
        <message>
            <source>shared stores</source>
            <translation>gemeinsame Speicher</translation>
        </message>
        <message>
            <source>shared stores {}</source>
            <translation>gemeinsame Speicher {}</translation>
        </message>
        <message>
            <source>shell</source>
            <translation>Shell</translation>
        </message>
        <message>
            <source>shows no use within a year.</source>
            <translation>zeigen ein Jahr lang keine Benutzung.</translation>
        </message>
        <message>
            <source>signing in asks its module</source>
            <translation>die Anmeldung fragt sein Modul</translation>
        </message>
        <message>
            <source>since {}</source>
            <translation>seit {}</translation>
        </message>
        <message>
            <source>skipped</source>
            <translation>gelassen</translation>
        </message>
        <message>
            <source>sole</source>
            <translation>allein</translation>
        </message>
        <message>
            <source>somebody's script starts it</source>
            <translation>jemandes Skript startet es</translation>
        </message>
        <message>
            <source>something else needs it</source>
            <translation>etwas anderes braucht es</translation>
        </message>
        <message>
            <source>something is mounted inside</source>
            <translation>darin ist etwas eingehängt</translation>
        </message>
        <message>
            <source>something is mounted there</source>
            <translation>dort ist etwas eingehängt</translation>
        </message>
        <message>
            <source>something newer stands there; it was not overwritten</source>
            <translation>dort steht Neueres; es wurde nicht überschrieben</translation>
        </message>
        <message>
            <source>something of this line was skipped: the registry keeps its settings</source>
            <translation>etwas in dieser Zeile wurde übersprungen: das Verzeichnis behält die Einstellungen</translation>
        </message>
        <message>
            <source>something of {}</source>
            <translation>etwas von {}</translation>
        </message>
        <message>
            <source>something stands there already</source>
            <translation>dort steht schon etwas</translation>
        </message>
        <message>
            <source>sources</source>
            <translation>Quellen</translation>
        </message>
        <message>
            <source>ssh starts or reads it</source>
            <translation>ssh startet oder liest es</translation>
        </message>
        <message>
            <source>starting</source>
            <translation>beginnt</translation>
        </message>
        <message>
            <source>starts at login</source>
            <translation>startet bei der Anmeldung</translation>
        </message>
        <message>
            <source>starts at login: turned off</source>
            <translation>Start bei der Anmeldung: abgeschaltet</translation>
        </message>
        <message>
            <source>names where its data is</source>
            <translation>nennt, wo seine Daten liegen</translation>
        </message>
        <message>
            <source>starts by itself</source>
            <translation>startet von selbst</translation>
        </message>
        <message>
            <source>starts in a run level</source>
            <translation>startet in einem Runlevel</translation>
        </message>
        <message>
            <source>starts it</source>
            <translation>startet es</translation>
        </message>
        <message>
            <source>starts it by itself</source>
            <translation>startet es von selbst</translation>
        </message>
        <message>
            <source>starts it in the menu</source>
            <translation>startet es im Menü</translation>
        </message>
        <message>
            <source>starts it on the desktop</source>
            <translation>startet es auf der Arbeitsfläche</translation>
        </message>
        <message>
            <source>starts it with every shell</source>
            <translation>startet es mit jeder Shell</translation>
        </message>
        <message>
            <source>starts programs of a format</source>
            <translation>startet Programme eines Formats</translation>
        </message>
        <message>
            <source>starts with the session</source>
            <translation>startet mit der Sitzung</translation>
        </message>
        <message>
            <source>starts with {}</source>
            <translation>startet mit {}</translation>
        </message>
        <message>
            <source>startup</source>
            <translation>Start</translation>
        </message>
        <message>
            <source>state</source>
            <translation>Stand</translation>
        </message>
        <message>
            <source>state written</source>
            <translation>Stand geschrieben</translation>
        </message>
        <message>
            <source>stays</source>
            <translation>bleibt</translation>
        </message>
        <message>
            <source>stays, so the registry is not told to forget {}: its purge would take this along</source>
            <translation>bleibt, also vergisst das Verzeichnis {} nicht: das nähme dies mit</translation>
        </message>
        <message>
            <source>still being looked for</source>
            <translation>wird noch gesucht</translation>
        </message>
        <message>
            <source>still needed: it is not removed</source>
            <translation>noch gebraucht: wird nicht entfernt</translation>
        </message>
        <message>
            <source>still pointed at</source>
            <translation>noch darauf gezeigt</translation>
        </message>
        <message>
            <source>still starts it</source>
            <translation>startet es noch</translation>
        </message>
        <message>
            <source>stop starting</source>
            <translation>nicht mehr starten</translation>
        </message>
        <message>
            <source>store</source>
            <translation>Speicher</translation>
        </message>
        <message>
            <source>stores</source>
            <translation>Speicher</translation>
        </message>
        <message>
            <source>support</source>
            <translation>Zubehör</translation>
        </message>
        <message>
            <source>sure</source>
            <translation>sicher</translation>
        </message>
        <message>
            <source>survey</source>
            <translation>Aufnahme</translation>
        </message>
        <message>
            <source>surveyed {}</source>
            <translation>aufgenommen {}</translation>
        </message>
        <message>
            <source>swap file</source>
            <translation>Auslagerungsdatei</translation>
        </message>
        <message>
            <source>system</source>
            <translation>System</translation>
        </message>
        <message>
            <source>system journal</source>
            <translation>Systemprotokoll</translation>
        </message>
        <message>
            <source>system package</source>
            <translation>Systempaket</translation>
        </message>
        <message>
            <source>system’s own hidden: {}</source>
            <translation>vom System verborgen: {}</translation>
        </message>
        <message>
            <source>take along</source>
            <translation>mitnehmen</translation>
        </message>
        <message>
            <source>takes nothing of it</source>
            <translation>nimmt nichts davon</translation>
        </message>
        <message>
            <source>temporary files</source>
            <translation>temporäre Dateien</translation>
        </message>
        <message>
            <source>temporary files that stay</source>
            <translation>bleibende temporäre Dateien</translation>
        </message>
        <message>
            <source>terminal programs</source>
            <translation>Programme der Befehlszeile</translation>
        </message>
        <message>
            <source>the administrator’s rights</source>
            <translation>den Rechten der Verwaltung</translation>
        </message>
        <message>
            <source>the alias {} starts it</source>
            <translation>der Alias {} startet es</translation>
        </message>
        <message>
            <source>Nothing was carried out</source>
            <translation>Nichts wurde ausgeführt</translation>
        </message>
        <message>
            <source>asking for the administrator’s rights</source>
            <translation>fragt nach den Rechten der Verwaltung</translation>
        </message>
        <message>
            <source>the administrator’s rights were not given ({}): nothing was changed</source>
            <translation>die Rechte der Verwaltung wurden nicht gegeben ({}): nichts wurde geändert</translation>
        </message>
        <message>
            <source>refused or dismissed</source>
            <translation>verweigert oder abgebrochen</translation>
        </message>
        <message>
            <source>refused, or nobody could be asked</source>
            <translation>verweigert, oder niemand war zu fragen</translation>
        </message>
        <message>
            <source>refused</source>
            <translation>verweigert</translation>
        </message>
        <message>
            <source>asking was ended before anybody answered</source>
            <translation>die Frage wurde beendet, bevor jemand antwortete</translation>
        </message>
        <message>
            <source>the carrier ended early</source>
            <translation>der Träger endete vorzeitig</translation>
        </message>
        <message>
            <source>the desktop</source>
            <translation>die Arbeitsfläche</translation>
        </message>
        <message>
            <source>the file is broken: have it mended, then look again</source>
            <translation>die Datei ist beschädigt: in Ordnung bringen, dann noch einmal ansehen</translation>
        </message>
        <message>
            <source>the function {} starts it</source>
            <translation>die Funktion {} startet es</translation>
        </message>
        <message>
            <source>the home is not there</source>
            <translation>der Benutzerordner ist nicht da</translation>
        </message>
        <message>
            <source>the journal goes back to {} only</source>
            <translation>das Protokoll reicht nur bis {} zurück</translation>
        </message>
        <message>
            <source>the keys {} start it</source>
            <translation>die Tasten {} starten es</translation>
        </message>
        <message>
            <source>the ledger could not take it in: {}</source>
            <translation>das Buch konnte es nicht aufnehmen: {}</translation>
        </message>
        <message>
            <source>the line stopped at operation {}</source>
            <translation>die Zeile hielt bei Schritt {} an</translation>
        </message>
        <message>
            <source>the menu</source>
            <translation>das Menü</translation>
        </message>
        <message>
            <source>the message bus starts it</source>
            <translation>der Nachrichtenbus startet es</translation>
        </message>
        <message>
            <source>the order of the lines</source>
            <translation>die Reihenfolge der Zeilen</translation>
        </message>
        <message>
            <source>the others together</source>
            <translation>die übrigen zusammen</translation>
        </message>
        <message>
            <source>the owner of this computer wants to keep it</source>
            <translation>der Besitzer dieses Rechners will es behalten</translation>
        </message>
        <message>
            <source>the package {}</source>
            <translation>das Paket {}</translation>
        </message>
        <message>
            <source>the picture its launcher shows</source>
            <translation>das Bild seines Starters</translation>
        </message>
        <message>
            <source>the registry knows it</source>
            <translation>das Verzeichnis kennt es</translation>
        </message>
        <message>
            <source>the registry still knows it</source>
            <translation>das Verzeichnis kennt es noch</translation>
        </message>
        <message>
            <source>the rest of an emptying that was cut off</source>
            <translation>der Rest einer abgebrochenen Leerung</translation>
        </message>
        <message>
            <source>the rest of it was left</source>
            <translation>der Rest blieb</translation>
        </message>
        <message>
            <source>the session</source>
            <translation>die Sitzung</translation>
        </message>
        <message>
            <source>the shell of {}</source>
            <translation>die Shell von {}</translation>
        </message>
        <message>
            <source>the system</source>
            <translation>das System</translation>
        </message>
        <message>
            <source>the system cannot run without it: its package is essential</source>
            <translation>ohne es läuft das System nicht: sein Paket ist unverzichtbar</translation>
        </message>
        <message>
            <source>the system {}</source>
            <translation>das System {}</translation>
        </message>
        <message>
            <source>the system’s</source>
            <translation>des Systems</translation>
        </message>
        <message>
            <source>the volume does not give it out: check the disk first</source>
            <translation>der Datenträger gibt es nicht her: zuerst die Platte prüfen</translation>
        </message>
        <message>
            <source>this computer</source>
            <translation>dieser Rechner</translation>
        </message>
        <message>
            <source>this desktop</source>
            <translation>diese Arbeitsfläche</translation>
        </message>
        <message>
            <source>thrown away</source>
            <translation>weggeworfen</translation>
        </message>
        <message>
            <source>thrown away by somebody</source>
            <translation>von jemandem weggeworfen</translation>
        </message>
        <message>
            <source>thumbnails</source>
            <translation>Vorschaubilder</translation>
        </message>
        <message>
            <source>ticked</source>
            <translation>angekreuzt</translation>
        </message>
        <message>
            <source>today</source>
            <translation>heute</translation>
        </message>
        <message>
            <source>today, {}</source>
            <translation>heute, {}</translation>
        </message>
        <message>
            <source>told</source>
            <translation>gesagt</translation>
        </message>
        <message>
            <source>trash</source>
            <translation>Papierkorb</translation>
        </message>
        <message>
            <source>trash of {}</source>
            <translation>Papierkorb von {}</translation>
        </message>
        <message>
            <source>trash of {} on {}</source>
            <translation>Papierkorb von {} auf {}</translation>
        </message>
        <message>
            <source>two in hand are compared</source>
            <translation>zwei in der Hand werden verglichen</translation>
        </message>
        <message>
            <source>two machines</source>
            <translation>zwei Rechner</translation>
        </message>
        <message>
            <source>unknown</source>
            <translation>unbekannt</translation>
        </message>
        <message>
            <source>used by {}</source>
            <translation>benutzt von {}</translation>
        </message>
        <message>
            <source>used since {}</source>
            <translation>benutzt seit {}</translation>
        </message>
        <message>
            <source>virtual machines</source>
            <translation>virtuelle Maschinen</translation>
        </message>
        <message>
            <source>visit {}</source>
            <translation>Besuch {}</translation>
        </message>
        <message>
            <source>volume</source>
            <translation>Datenträger</translation>
        </message>
        <message>
            <source>waits</source>
            <translation>wartet</translation>
        </message>
        <message>
            <source>was a system package</source>
            <translation>war ein Systempaket</translation>
        </message>
        <message>
            <source>was changed while it was copied: it was left</source>
            <translation>wurde beim Kopieren geändert: nicht angerührt</translation>
        </message>
        <message>
            <source>was gone already</source>
            <translation>war schon weg</translation>
        </message>
        <message>
            <source>was not read</source>
            <translation>wurde nicht gelesen</translation>
        </message>
        <message>
            <source>was thrown away from its folder</source>
            <translation>wurde aus seinem Ordner weggeworfen</translation>
        </message>
        <message>
            <source>was written to since it was surveyed</source>
            <translation>wurde seit der Aufnahme beschrieben</translation>
        </message>
        <message>
            <source>what it served is not known</source>
            <translation>was es bediente, ist nicht bekannt</translation>
        </message>
        <message>
            <source>what its launcher starts</source>
            <translation>was sein Starter startet</translation>
        </message>
        <message>
            <source>what nothing else needs any more</source>
            <translation>was sonst nichts mehr braucht</translation>
        </message>
        <message>
            <source>what shared stores hold</source>
            <translation>was gemeinsame Speicher halten</translation>
        </message>
        <message>
            <source>what was left behind</source>
            <translation>was zurückblieb</translation>
        </message>
        <message>
            <source>when emptied</source>
            <translation>wenn geleert</translation>
        </message>
        <message>
            <source>when the shelf is emptied</source>
            <translation>wenn die Verwahrung geleert wird</translation>
        </message>
        <message>
            <source>where: {}</source>
            <translation>wo: {}</translation>
        </message>
        <message>
            <source>which no single application owns</source>
            <translation>das keiner Anwendung allein gehört</translation>
        </message>
        <message>
            <source>with the system’s own: {}, {} ×</source>
            <translation>mit denen des Systems: {}, {} ×</translation>
        </message>
        <message>
            <source>with {}</source>
            <translation>mit {}</translation>
        </message>
        <message>
            <source>without its own scripts: last resort</source>
            <translation>ohne eigene Skripte: letztes Mittel</translation>
        </message>
        <message>
            <source>without {}</source>
            <translation>ohne {}</translation>
        </message>
        <message>
            <source>without {}: still needed</source>
            <translation>ohne {}: noch gebraucht</translation>
        </message>
        <message>
            <source>working</source>
            <translation>läuft</translation>
        </message>
        <message>
            <source>written {}</source>
            <translation>geschrieben {}</translation>
        </message>
        <message>
            <source>{} ({} places below it)</source>
            <translation>{} ({} Orte darunter)</translation>
        </message>
        <message>
            <source>{} As a last resort its package goes without its own scripts: what they would have tidied up stays. Put back brings it back as it stands now.</source>
            <translation>{} Als letztes Mittel geht sein Paket ohne eigene Skripte: was sie aufgeräumt hätten, bleibt. Zurückstellen bringt es, wie es jetzt steht.</translation>
        </message>
        <message>
            <source>{} and {}</source>
            <translation>{} und {}</translation>
        </message>
        <message>
            <source>{} and {} more</source>
            <translation>{} und {} weitere</translation>
        </message>
        <message>
            <source>{} applications have the same claim to it: nobody’s alone</source>
            <translation>{} Anwendungen haben denselben Anspruch: keiner gehört es allein</translation>
        </message>
        <message>
            <source>{} at most</source>
            <translation>höchstens {}</translation>
        </message>
        <message>
            <source>{} back now</source>
            <translation>{} zurück</translation>
        </message>
        <message>
            <source>{} bytes</source>
            <translation>{} Byte</translation>
        </message>
        <message>
            <source>{} bytes free of {}; {} bytes promised</source>
            <translation>{} Byte frei von {}; {} Byte versprochen</translation>
        </message>
        <message>
            <source>{} came back since then: {}.</source>
            <translation>{} kamen seither wieder: {}.</translation>
        </message>
        <message>
            <source>{} can then not be put back. {} come back.</source>
            <translation>{} kann dann nicht zurückgestellt werden. {} kommen zurück.</translation>
        </message>
        <message>
            <source>{} cannot be carried out: {}.{}</source>
            <translation>{} kann nicht ausgeführt werden: {}.{}</translation>
        </message>
        <message>
            <source>{} changed since installed: {}</source>
            <translation>{} seit der Installation geändert: {}</translation>
        </message>
        <message>
            <source>{} could not be read: {}: {}</source>
            <translation>{} nicht lesbar: {}: {}</translation>
        </message>
        <message>
            <source>{} did not end when it was asked ({}, process {})</source>
            <translation>{} endete auf Aufforderung nicht ({}, Prozess {})</translation>
        </message>
        <message>
            <source>{} earlier visits</source>
            <translation>{} frühere Besuche</translation>
        </message>
        <message>
            <source>{} enabled</source>
            <translation>{} eingeschaltet</translation>
        </message>
        <message>
            <source>{} for the owner</source>
            <translation>{} für den Besitzer</translation>
        </message>
        <message>
            <source>{} for the owner to decide</source>
            <translation>{} hat der Besitzer zu entscheiden</translation>
        </message>
        <message>
            <source>{} found</source>
            <translation>{} gefunden</translation>
        </message>
        <message>
            <source>{} free now</source>
            <translation>jetzt {} frei</translation>
        </message>
        <message>
            <source>{} free of {}</source>
            <translation>{} frei von {}</translation>
        </message>
        <message>
            <source>{} gone</source>
            <translation>{} weg</translation>
        </message>
        <message>
            <source>{} has it open{}, process {}.</source>
            <translation>{} hat es offen{}, Prozess {}.</translation>
        </message>
        <message>
            <source>{} here</source>
            <translation>{} ist hier</translation>
        </message>
        <message>
            <source>{} in hand</source>
            <translation>{} in der Hand</translation>
        </message>
        <message>
            <source>Underlined: {} of the {} in hand · {} in {} · {} used on {}</source>
            <translation>Unterstrichen: {} von {} in der Hand · {} in {} · {} belegt auf {}</translation>
        </message>
        <message>
            <source>Archive what goes first…</source>
            <translation>Erst archivieren, was geht …</translation>
        </message>
        <message>
            <source>Archive what goes</source>
            <translation>Archivieren, was geht</translation>
        </message>
        <message>
            <source>Archived: {}</source>
            <translation>Archiviert: {}</translation>
        </message>
        <message>
            <source>{}: do not archive it</source>
            <translation>{}: doch nicht archivieren</translation>
        </message>
        <message>
            <source>On another medium, as one open file, before the shelf is emptied</source>
            <translation>Auf einen anderen Datenträger, als eine offene Datei, bevor das Regal geleert wird</translation>
        </message>
        <message>
            <source>{} in {} · {} used on {}</source>
            <translation>{} in {} · {} belegt auf {}</translation>
        </message>
        <message>
            <source>{} installed</source>
            <translation>{} installiert</translation>
        </message>
        <message>
            <source>{} is also here</source>
            <translation>{} ist auch da</translation>
        </message>
        <message>
            <source>{} is mounted read-only: nothing there can be changed</source>
            <translation>{} ist nur lesbar eingehängt: dort kann nichts geändert werden</translation>
        </message>
        <message>
            <source>{} is not a folder.</source>
            <translation>{} ist kein Ordner.</translation>
        </message>
        <message>
            <source>{} is protected</source>
            <translation>{} ist geschützt</translation>
        </message>
        <message>
            <source>{} is registered elsewhere: {}</source>
            <translation>{} ist anderswo verzeichnet: {}</translation>
        </message>
        <message>
            <source>{} is running</source>
            <translation>{} läuft</translation>
        </message>
        <message>
            <source>{} is running ({}, process {})</source>
            <translation>{} läuft ({}, Prozess {})</translation>
        </message>
        <message>
            <source>{} is set to it</source>
            <translation>{} ist darauf gesetzt</translation>
        </message>
        <message>
            <source>{} is started again by something as soon as it ends</source>
            <translation>{} wird sofort wieder gestartet</translation>
        </message>
        <message>
            <source>{} is to be kept, and {} would take it along: leave that out, or let both go</source>
            <translation>{} soll bleiben, und {} nähme es mit: das auslassen oder beide gehen lassen</translation>
        </message>
        <message>
            <source>{} is {} full.</source>
            <translation>{} ist zu {} voll.</translation>
        </message>
        <message>
            <source>{} is {}: its removal may fail.</source>
            <translation>{} ist {}: das Entfernen misslingt vielleicht.</translation>
        </message>
        <message>
            <source>{} is {}’s, process {}: it is not ours to end</source>
            <translation>{} gehört {}, Prozess {}: nicht an uns, es zu beenden</translation>
        </message>
        <message>
            <source>{} kept free for the system</source>
            <translation>{} fürs System freigehalten</translation>
        </message>
        <message>
            <source>{} leads into its folder</source>
            <translation>{} führt in seinen Ordner</translation>
        </message>
        <message>
            <source>{} leads to it</source>
            <translation>{} führt dazu</translation>
        </message>
        <message>
            <source>{} lie within two days of each other</source>
            <translation>{} liegen keine zwei Tage auseinander</translation>
        </message>
        <message>
            <source>{} lies where nothing can be renamed: it will be copied, compared and then removed</source>
            <translation>{} liegt, wo nichts umbenannt werden kann: es wird kopiert, verglichen und dann entfernt</translation>
        </message>
        <message>
            <source>{} likewise.</source>
            <translation>{} ebenso.</translation>
        </message>
        <message>
            <source>{} lines {}</source>
            <translation>{} Zeilen {}</translation>
        </message>
        <message>
            <source>{} may hold what is removed: space comes back when they go</source>
            <translation>{} halten vielleicht Entferntes: der Platz kommt zurück, wenn sie gehen</translation>
        </message>
        <message>
            <source>{} may not go its own way</source>
            <translation>{} geht vielleicht nicht auf seine Art</translation>
        </message>
        <message>
            <source>{} may not go their own way</source>
            <translation>{} gehen vielleicht nicht auf ihre Art</translation>
        </message>
        <message>
            <source>{} more</source>
            <translation>{} weitere</translation>
        </message>
        <message>
            <source>{} needed by others</source>
            <translation>{} von anderen gebraucht</translation>
        </message>
        <message>
            <source>{} needs it</source>
            <translation>{} braucht es</translation>
        </message>
        <message>
            <source>{} needs {}</source>
            <translation>{} braucht {}</translation>
        </message>
        <message>
            <source>{} not accounted for</source>
            <translation>{} ungeklärt</translation>
        </message>
        <message>
            <source>{} of a package that goes along</source>
            <translation>{} eines mitgehenden Pakets</translation>
        </message>
        <message>
            <source>{} of this line</source>
            <translation>{} dieser Zeile</translation>
        </message>
        <message>
            <source>{} of {}</source>
            <translation>{} von {}</translation>
        </message>
        <message>
            <source>{} of {} did not end: it may write its own over it</source>
            <translation>{} von {} endete nicht: es schreibt vielleicht darüber</translation>
        </message>
        <message>
            <source>{} of {} settled</source>
            <translation>{} von {} geklärt</translation>
        </message>
        <message>
            <source>{} of {} were done</source>
            <translation>{} von {} wurden getan</translation>
        </message>
        <message>
            <source>{} of {} were done.</source>
            <translation>{} von {} wurden getan.</translation>
        </message>
        <message>
            <source>{} of {}, {}, last written {}.</source>
            <translation>{} von {}, {}, zuletzt geschrieben {}.</translation>
        </message>
        <message>
            <source>{} of {}{}</source>
            <translation>{} von {}{}</translation>
        </message>
        <message>
            <source>{} older than a month</source>
            <translation>{} älter als ein Monat</translation>
        </message>
        <message>
            <source>{} on the holding shelf</source>
            <translation>{} in der Verwahrung</translation>
        </message>
        <message>
            <source>{} on {}</source>
            <translation>{} auf {}</translation>
        </message>
        <message>
            <source>{} packages go with it</source>
            <translation>{} Pakete gehen mit</translation>
        </message>
        <message>
            <source>{} promised</source>
            <translation>{} versprochen</translation>
        </message>
        <message>
            <source>{} promised · {}</source>
            <translation>{} versprochen · {}</translation>
        </message>
        <message>
            <source>{} protected</source>
            <translation>{} geschützt</translation>
        </message>
        <message>
            <source>{} registered elsewhere</source>
            <translation>{} anderswo verzeichnet</translation>
        </message>
        <message>
            <source>{} running now</source>
            <translation>{} laufen jetzt</translation>
        </message>
        <message>
            <source>{} runs ({}, process {}, since {}): it will be asked to end</source>
            <translation>{} läuft ({}, Prozess {}, seit {}): es wird zum Beenden aufgefordert</translation>
        </message>
        <message>
            <source>{} set aside</source>
            <translation>{} beiseite gelegt</translation>
        </message>
        <message>
            <source>{} skipped</source>
            <translation>{} übersprungen</translation>
        </message>
        <message>
            <source>{} small</source>
            <translation>{} kleine</translation>
        </message>
        <message>
            <source>{} small, {}</source>
            <translation>{} kleine, {}</translation>
        </message>
        <message>
            <source>{} smaller</source>
            <translation>{} kleinere</translation>
        </message>
        <message>
            <source>{} that nothing else needs</source>
            <translation>{}, die sonst nichts braucht</translation>
        </message>
        <message>
            <source>{} to settle</source>
            <translation>{} zu klären</translation>
        </message>
        <message>
            <source>{} to settle first</source>
            <translation>{} zuerst zu klären</translation>
        </message>
        <message>
            <source>From a file…</source>
            <translation>Aus einer Datei…</translation>
        </message>
        <message>
            <source>As a file…</source>
            <translation>Als Datei…</translation>
        </message>
        <message>
            <source>Write the order</source>
            <translation>Den Auftrag schreiben</translation>
        </message>
        <message>
            <source>An order of another day or desk</source>
            <translation>Ein Auftrag von einem anderen Tag oder Platz</translation>
        </message>
        <message>
            <source>Not as in its file</source>
            <translation>Nicht wie in seiner Datei</translation>
        </message>
        <message>
            <source>An order from a file…</source>
            <translation>Ein Auftrag aus einer Datei…</translation>
        </message>
        <message>
            <source>This order as a file…</source>
            <translation>Diesen Auftrag als Datei…</translation>
        </message>
        <message>
            <source>Orders (*.json)</source>
            <translation>Aufträge (*.json)</translation>
        </message>
        <message>
            <source>The order is {}.</source>
            <translation>Der Auftrag ist {}.</translation>
        </message>
        <message>
            <source>not here any more: {}</source>
            <translation>nicht mehr hier: {}</translation>
        </message>
        <message>
            <source>{}: {} now, {} then</source>
            <translation>{}: jetzt {}, damals {}</translation>
        </message>
        <message>
            <source>goes too now: {}</source>
            <translation>geht jetzt auch: {}</translation>
        </message>
        <message>
            <source>the registry takes along now: {}</source>
            <translation>die Paketverwaltung nimmt jetzt mit: {}</translation>
        </message>
        <message>
            <source>the registry does not take now: {}</source>
            <translation>die Paketverwaltung nimmt jetzt nicht: {}</translation>
        </message>
        <message>
            <source>{} come back now, {} then</source>
            <translation>jetzt kommen {} zurück, damals {}</translation>
        </message>
        <message>
            <source>The account of {} stands in {}</source>
            <translation>Das Konto von {} steht an {}</translation>
        </message>
        <message>
            <source>{} that somebody made points at {}</source>
            <translation>{}, den jemand angelegt hat, verweist auf {}</translation>
        </message>
        <message>
            <source>{} that somebody made point at {}</source>
            <translation>{}, die jemand angelegt hat, verweisen auf {}</translation>
        </message>
        <message>
            <source>Uninstall through {}</source>
            <translation>Deinstallieren durch {}</translation>
        </message>
        <message>
            <source>all that use it go</source>
            <translation>alle, die es nutzen, gehen</translation>
        </message>
        <message>
            <source>{} was asked: it would remove the same {}.</source>
            <translation>{} wurde gefragt: Es würde dieselben {} entfernen.</translation>
        </message>
        <message>
            <source>{} unlocks the home by signing in; then look again</source>
            <translation>{} gibt den Ordner durch Anmelden frei; dann noch einmal ansehen</translation>
        </message>
        <message>
            <source>{} used</source>
            <translation>{} belegt</translation>
        </message>
        <message>
            <source>{} wait, {} of it originals of packages</source>
            <translation>{} warten, {} davon Originale von Paketen</translation>
        </message>
        <message>
            <source>{} {} free on {}</source>
            <translation>{} {} frei auf {}</translation>
        </message>
        <message>
            <source>{} {} in {}</source>
            <translation>{} {} in {}</translation>
        </message>
        <message>
            <source>{} {} known</source>
            <translation>{} {} bekannt</translation>
        </message>
        <message>
            <source>{} · looked at {}, {} s</source>
            <translation>{} · angesehen {}, {} s</translation>
        </message>
        <message>
            <source>{} · together {}</source>
            <translation>{} · zusammen {}</translation>
        </message>
        <message>
            <source>{} · {} ticked</source>
            <translation>{} · {} angekreuzt</translation>
        </message>
        <message>
            <source>{} · {} · named, counts in no sum</source>
            <translation>{} · {} · genannt, zählt in keiner Summe</translation>
        </message>
        <message>
            <source>{} – now</source>
            <translation>{} – jetzt</translation>
        </message>
        <message>
            <source>{} → {} free of {}</source>
            <translation>{} → {} frei von {}</translation>
        </message>
        <message>
            <source>{}, and its content says that it wrote it</source>
            <translation>{}, und der Inhalt sagt, dass es ihn schrieb</translation>
        </message>
        <message>
            <source>{}, and nothing that is asked for needs it any more</source>
            <translation>{}, und nichts Verlangtes braucht es mehr</translation>
        </message>
        <message>
            <source>{}, behind an exit</source>
            <translation>{}, hinter einem exit</translation>
        </message>
        <message>
            <source>{}, for nobody knows what</source>
            <translation>{}, niemand weiß wozu</translation>
        </message>
        <message>
            <source>{}, in the order they will be done</source>
            <translation>{}, in der Reihenfolge der Ausführung</translation>
        </message>
        <message>
            <source>{}, line {}</source>
            <translation>{}, Zeile {}</translation>
        </message>
        <message>
            <source>{}, lines {}</source>
            <translation>{}, Zeilen {}</translation>
        </message>
        <message>
            <source>{}, the registries’ databases, and the signs of use that the system keeps</source>
            <translation>{}, die Datenbanken der Verzeichnisse und die Spuren von Benutzung, die das System behält</translation>
        </message>
        <message>
            <source>{}, {} then, {} now</source>
            <translation>{}, damals {}, jetzt {}</translation>
        </message>
        <message>
            <source>{}, {}, {}. Delete takes it off.</source>
            <translation>{}, {}, {}. Entf nimmt es herunter.</translation>
        </message>
        <message>
            <source>{}, {}’s own work: stays</source>
            <translation>{}, eigene Arbeit von {}: bleibt</translation>
        </message>
        <message>
            <source>{}. Nothing was moved.</source>
            <translation>{}. Nichts wurde bewegt.</translation>
        </message>
        <message>
            <source>{}: has no room for {} of originals</source>
            <translation>{}: hat keinen Platz für {} Originale</translation>
        </message>
        <message>
            <source>{}: has {} free and needs {} for the way back</source>
            <translation>{}: hat {} frei und braucht {} für den Weg zurück</translation>
        </message>
        <message>
            <source>{}: has {} free and needs {} for the way back; originals of packages can be kept in a folder elsewhere</source>
            <translation>{}: hat {} frei und braucht {} für den Weg zurück; Originale von Paketen können in einem anderen Ordner aufgehoben werden</translation>
        </message>
        <message>
            <source>Keep originals of packages in</source>
            <translation>Originale von Paketen aufheben in</translation>
        </message>
        <message>
            <source>Keep the originals elsewhere…</source>
            <translation>Originale woanders aufheben …</translation>
        </message>
        <message>
            <source>Originals: {}</source>
            <translation>Originale: {}</translation>
        </message>
        <message>
            <source>{}: keep them on the holding shelf</source>
            <translation>{}: doch in der Verwahrung aufheben</translation>
        </message>
        <message>
            <source>{}: names and sizes; nothing of what they wrote is shown</source>
            <translation>{}: Namen und Größen; nichts vom Geschriebenen wird gezeigt</translation>
        </message>
        <message>
            <source>{}: nobody’s alone</source>
            <translation>{}: niemandes allein</translation>
        </message>
        <message>
            <source>{}: starts it</source>
            <translation>{}: startet es</translation>
        </message>
        <message>
            <source>{}: taken out with what points at it</source>
            <translation>{}: geht mit allem, was darauf zeigt</translation>
        </message>
        <message>
            <source>{}: {} of {}</source>
            <translation>{}: {} von {}</translation>
        </message>
        <message>
            <source>{}: {} promised</source>
            <translation>{}: {} versprochen</translation>
        </message>
        <message>
            <source>{}: {}’s own work: stays</source>
            <translation>{}: eigene Arbeit von {}: bleibt</translation>
        </message>
        <message>
            <source>{}: {}’s places were not looked at</source>
            <translation>{}: Orte von {} wurden nicht angesehen</translation>
        </message>
        <message>
            <source>{}; its content says that another wrote it</source>
            <translation>{}; der Inhalt sagt, dass ein anderes ihn schrieb</translation>
        </message>
        <message>
            <source>{}; names stand here first, then sizes, then when each was used</source>
            <translation>{}; zuerst stehen hier Namen, dann Größen, dann wann jedes benutzt wurde</translation>
        </message>
        <message>
            <source>{}; not in effect</source>
            <translation>{}; nicht wirksam</translation>
        </message>
        <message>
            <source>{}; stays for {}{}</source>
            <translation>{}; bleibt für {}{}</translation>
        </message>
        <message>
            <source>{}; to clear it: {}</source>
            <translation>{}; zum Leeren: {}</translation>
        </message>
        <message>
            <source>{}; {} in memory only: gone at the next start</source>
            <translation>{}; {} nur im Speicher: weg beim nächsten Start</translation>
        </message>
        <message>
            <source>{}{}. Nothing of the machine was changed by it.</source>
            <translation>{}{}. Am Rechner wurde dadurch nichts geändert.</translation>
        </message>
        <message>
            <source>{}{}: it is a part of {}, or would not work without it.</source>
            <translation>{}{}: es ist Teil von {} oder ginge ohne es nicht.</translation>
        </message>
        <message>
            <source>{}’s environment names it as its {}</source>
            <translation>die Umgebung von {} nennt es als {}</translation>
        </message>
        <message>
            <source>{}’s own</source>
            <translation>Eigenes von {}</translation>
        </message>
        <message>
            <source>{}’s own work: stays</source>
            <translation>eigene Arbeit von {}: bleibt</translation>
        </message>
        <message>
            <source>· and {} more</source>
            <translation>· und {} weitere</translation>
        </message>
        <message>
            <source>· drawn from the survey of {}</source>
            <translation>· gezogen aus der Aufnahme von {}</translation>
        </message>
        <message>
            <source>· last used is barely known: ask</source>
            <translation>· letzte Benutzung kaum bekannt: fragen</translation>
        </message>
        <message>
            <source>· older than {}</source>
            <translation>· älter als {}</translation>
        </message>
        <message>
            <source>· personal content stays</source>
            <translation>· Persönliches bleibt</translation>
        </message>
        <message>
            <source>· settled {}</source>
            <translation>· geklärt {}</translation>
        </message>
        <message>
            <source>· starts at login</source>
            <translation>· startet bei der Anmeldung</translation>
        </message>
        <message>
            <source>· stops after this one</source>
            <translation>· hält nach diesem an</translation>
        </message>
        <message>
            <source>· {} a person’s own, stays</source>
            <translation>· {} Eigenes einer Person, bleibt</translation>
        </message>
        <message>
            <source>· {} more</source>
            <translation>· {} weitere</translation>
        </message>
        <message>
            <source>· {} on the holding shelf</source>
            <translation>· {} in der Verwahrung</translation>
        </message>
        <message>
            <source>· {}, in the order they will be done</source>
            <translation>· {}, in der Reihenfolge der Ausführung</translation>
        </message>
        <message>
            <source>… and {} more</source>
            <translation>… und {} weitere</translation>
        </message>
    </context>
    <context>
        <name>counts</name>
        <message numerus="yes">
            <source>%n place not here or not its own any more|places not here or not its own any more</source>
            <translation>
                <numerusform>%n Ort nicht mehr hier oder nicht mehr seiner</numerusform>
                <numerusform>%n Orte nicht mehr hier oder nicht mehr seine</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n place of what goes along now|places of what goes along now</source>
            <translation>
                <numerusform>%n Ort von dem, was jetzt mitgeht</numerusform>
                <numerusform>%n Orte von dem, was jetzt mitgeht</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n reference not in its file, left as they are|references not in its file, left as they are</source>
            <translation>
                <numerusform>%n Verweis nicht in seiner Datei, bleibt wie er ist</numerusform>
                <numerusform>%n Verweise nicht in seiner Datei, bleiben wie sie sind</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n reference not there any more|references not there any more</source>
            <translation>
                <numerusform>%n Verweis nicht mehr da</numerusform>
                <numerusform>%n Verweise nicht mehr da</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n question to be answered again: what is asked has changed|questions to be answered again: what is asked has changed</source>
            <translation>
                <numerusform>%n Frage neu zu beantworten: Was gefragt wird, hat sich geändert</numerusform>
                <numerusform>%n Fragen neu zu beantworten: Was gefragt wird, hat sich geändert</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n application|applications</source>
            <translation>
                <numerusform>%n Anwendung</numerusform>
                <numerusform>%n Anwendungen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n belonging|belongings</source>
            <translation>
                <numerusform>%n Zugehöriges</numerusform>
                <numerusform>%n Zugehörige</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n cell|cells</source>
            <translation>
                <numerusform>%n Feld</numerusform>
                <numerusform>%n Felder</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n entry|entries</source>
            <translation>
                <numerusform>%n Eintrag</numerusform>
                <numerusform>%n Einträge</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n file|files</source>
            <translation>
                <numerusform>%n Datei</numerusform>
                <numerusform>%n Dateien</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n file mentions it|files mention it</source>
            <translation>
                <numerusform>%n Datei erwähnt es</numerusform>
                <numerusform>%n Dateien erwähnen es</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n file names it|files name it</source>
            <translation>
                <numerusform>%n Datei nennt es</numerusform>
                <numerusform>%n Dateien nennen es</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n finding|findings</source>
            <translation>
                <numerusform>%n Befund</numerusform>
                <numerusform>%n Befunde</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n home|homes</source>
            <translation>
                <numerusform>%n Benutzerordner</numerusform>
                <numerusform>%n Benutzerordner</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n kind|kinds</source>
            <translation>
                <numerusform>%n Art</numerusform>
                <numerusform>%n Arten</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n kind of sign|kinds of sign</source>
            <translation>
                <numerusform>%n Art von Zeichen</numerusform>
                <numerusform>%n Arten von Zeichen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n line|lines</source>
            <translation>
                <numerusform>%n Zeile</numerusform>
                <numerusform>%n Zeilen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n setting|settings</source>
            <translation>
                <numerusform>%n Einstellung</numerusform>
                <numerusform>%n Einstellungen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n mention|mentions</source>
            <translation>
                <numerusform>%n Erwähnung</numerusform>
                <numerusform>%n Erwähnungen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n more line|more lines</source>
            <translation>
                <numerusform>%n weitere Zeile</numerusform>
                <numerusform>%n weitere Zeilen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n more package|more packages</source>
            <translation>
                <numerusform>%n weiteres Paket</numerusform>
                <numerusform>%n weitere Pakete</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n operation|operations</source>
            <translation>
                <numerusform>%n Schritt</numerusform>
                <numerusform>%n Schritte</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n original|originals</source>
            <translation>
                <numerusform>%n Original</numerusform>
                <numerusform>%n Originale</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n other kind|other kinds</source>
            <translation>
                <numerusform>%n andere Art</numerusform>
                <numerusform>%n andere Arten</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n other line|other lines</source>
            <translation>
                <numerusform>%n andere Zeile</numerusform>
                <numerusform>%n andere Zeilen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n package|packages</source>
            <translation>
                <numerusform>%n Paket</numerusform>
                <numerusform>%n Pakete</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n person|people</source>
            <translation>
                <numerusform>%n Person</numerusform>
                <numerusform>%n Leute</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n place|places</source>
            <translation>
                <numerusform>%n Ort</numerusform>
                <numerusform>%n Orte</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n other place|other places</source>
            <translation>
                <numerusform>%n anderer Ort</numerusform>
                <numerusform>%n andere Orte</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n question|questions</source>
            <translation>
                <numerusform>%n Frage</numerusform>
                <numerusform>%n Fragen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n reference|references</source>
            <translation>
                <numerusform>%n Verweis</numerusform>
                <numerusform>%n Verweise</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n sign|signs</source>
            <translation>
                <numerusform>%n Zeichen</numerusform>
                <numerusform>%n Zeichen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n smaller|smaller</source>
            <translation>
                <numerusform>%n kleinerer</numerusform>
                <numerusform>%n kleinere</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n thing|things</source>
            <translation>
                <numerusform>%n Sache</numerusform>
                <numerusform>%n Sachen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n store|stores</source>
            <translation>
                <numerusform>%n Speicher</numerusform>
                <numerusform>%n Speicher</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n visit|visits</source>
            <translation>
                <numerusform>%n Besuch</numerusform>
                <numerusform>%n Besuche</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n byte|bytes</source>
            <translation>
                <numerusform>%n Byte</numerusform>
                <numerusform>%n Byte</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n day|days</source>
            <translation>
                <numerusform>%n Tag</numerusform>
                <numerusform>%n Tage</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n folder|folders</source>
            <translation>
                <numerusform>%n Ordner</numerusform>
                <numerusform>%n Ordner</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n entry in cargo’s books|entries in cargo’s books</source>
            <translation>
                <numerusform>%n Eintrag in Cargos Büchern</numerusform>
                <numerusform>%n Einträge in Cargos Büchern</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n entry in libraries of games|entries in libraries of games</source>
            <translation>
                <numerusform>%n Eintrag einer Spielesammlung</numerusform>
                <numerusform>%n Einträge in Spielesammlungen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n own launcher|own launchers</source>
            <translation>
                <numerusform>%n eigener Starter</numerusform>
                <numerusform>%n eigene Starter</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n launcher in a panel|launchers in panels</source>
            <translation>
                <numerusform>%n Starter in einer Leiste</numerusform>
                <numerusform>%n Starter in Leisten</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n button in a panel|buttons in panels</source>
            <translation>
                <numerusform>%n Knopf in einer Leiste</numerusform>
                <numerusform>%n Knöpfe in Leisten</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n mention in a menu|mentions in menus</source>
            <translation>
                <numerusform>%n Nennung in einem Menü</numerusform>
                <numerusform>%n Nennungen in Menüs</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n description of its types|descriptions of its types</source>
            <translation>
                <numerusform>%n Beschreibung seiner Typen</numerusform>
                <numerusform>%n Beschreibungen seiner Typen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n start at login|starts at login</source>
            <translation>
                <numerusform>%n Start bei der Anmeldung</numerusform>
                <numerusform>%n Starts bei der Anmeldung</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n session|sessions</source>
            <translation>
                <numerusform>%n Sitzung</numerusform>
                <numerusform>%n Sitzungen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n line of a session's script|lines of sessions' scripts</source>
            <translation>
                <numerusform>%n Zeile eines Sitzungsskripts</numerusform>
                <numerusform>%n Zeilen von Sitzungsskripten</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n unit|units</source>
            <translation>
                <numerusform>%n Unit</numerusform>
                <numerusform>%n Units</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n enabled unit|enabled units</source>
            <translation>
                <numerusform>%n eingeschaltete Unit</numerusform>
                <numerusform>%n eingeschaltete Units</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n unit addition|unit additions</source>
            <translation>
                <numerusform>%n Zusatz zu einer Unit</numerusform>
                <numerusform>%n Zusätze zu Units</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n line of another unit|lines of other units</source>
            <translation>
                <numerusform>%n Zeile einer anderen Unit</numerusform>
                <numerusform>%n Zeilen anderer Units</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n preset of its unit|presets of its units</source>
            <translation>
                <numerusform>%n Vorgabe seiner Unit</numerusform>
                <numerusform>%n Vorgaben seiner Units</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n script of init|scripts of init</source>
            <translation>
                <numerusform>%n Init-Skript</numerusform>
                <numerusform>%n Init-Skripte</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n link of a run level|links of run levels</source>
            <translation>
                <numerusform>%n Verweis eines Runlevels</numerusform>
                <numerusform>%n Verweise von Runleveln</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n rule for devices|rules for devices</source>
            <translation>
                <numerusform>%n Geräteregel</numerusform>
                <numerusform>%n Geräteregeln</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n module of the kernel|modules of the kernel</source>
            <translation>
                <numerusform>%n Kernelmodul</numerusform>
                <numerusform>%n Kernelmodule</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n format of programs|formats of programs</source>
            <translation>
                <numerusform>%n Programmformat</numerusform>
                <numerusform>%n Programmformate</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n what is made at every start|what is made at every start</source>
            <translation>
                <numerusform>%n bei jedem Start Gemachtes</numerusform>
                <numerusform>%n bei jedem Start Gemachte</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n job|jobs</source>
            <translation>
                <numerusform>%n Zeitauftrag</numerusform>
                <numerusform>%n Zeitaufträge</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n periodic script|periodic scripts</source>
            <translation>
                <numerusform>%n regelmäßiges Skript</numerusform>
                <numerusform>%n regelmäßige Skripte</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n job of anacron|jobs of anacron</source>
            <translation>
                <numerusform>%n Auftrag von anacron</numerusform>
                <numerusform>%n Aufträge von anacron</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n job of at|jobs of at</source>
            <translation>
                <numerusform>%n Auftrag von at</numerusform>
                <numerusform>%n Aufträge von at</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n type of files|types of files</source>
            <translation>
                <numerusform>%n Dateityp</numerusform>
                <numerusform>%n Dateitypen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n thumbnailer|thumbnailers</source>
            <translation>
                <numerusform>%n Vorschaumacher</numerusform>
                <numerusform>%n Vorschaumacher</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n command for a type|commands for types</source>
            <translation>
                <numerusform>%n Befehl für einen Typ</numerusform>
                <numerusform>%n Befehle für Typen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n line of a shell|lines of shells</source>
            <translation>
                <numerusform>%n Zeile einer Shell</numerusform>
                <numerusform>%n Zeilen von Shells</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n variable of the environment|variables of the environment</source>
            <translation>
                <numerusform>%n Umgebungsvariable</numerusform>
                <numerusform>%n Umgebungsvariablen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n folder that is searched|folders that are searched</source>
            <translation>
                <numerusform>%n durchsuchter Ordner</numerusform>
                <numerusform>%n durchsuchte Ordner</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n completion of its command|completions of its command</source>
            <translation>
                <numerusform>%n Ergänzung seines Befehls</numerusform>
                <numerusform>%n Ergänzungen seines Befehls</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n bus service|bus services</source>
            <translation>
                <numerusform>%n Busdienst</numerusform>
                <numerusform>%n Busdienste</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n rule of the message bus|rules of the message bus</source>
            <translation>
                <numerusform>%n Regel des Nachrichtenbusses</numerusform>
                <numerusform>%n Regeln des Nachrichtenbusses</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n rule for its actions|rules for its actions</source>
            <translation>
                <numerusform>%n Regel für seine Handlungen</numerusform>
                <numerusform>%n Regeln für seine Handlungen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n action with rights|actions with rights</source>
            <translation>
                <numerusform>%n Handlung mit Rechten</numerusform>
                <numerusform>%n Handlungen mit Rechten</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n rule of rights|rules of rights</source>
            <translation>
                <numerusform>%n Rechteregel</numerusform>
                <numerusform>%n Rechteregeln</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n profile that confines it|profiles that confine it</source>
            <translation>
                <numerusform>%n einschränkendes Profil</numerusform>
                <numerusform>%n einschränkende Profile</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n profile for a firewall|profiles for firewalls</source>
            <translation>
                <numerusform>%n Profil einer Firewall</numerusform>
                <numerusform>%n Profile von Firewalls</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n account of the system|accounts of the system</source>
            <translation>
                <numerusform>%n Konto des Systems</numerusform>
                <numerusform>%n Konten des Systems</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n entry of its account|entries of its account</source>
            <translation>
                <numerusform>%n Eintrag seines Kontos</numerusform>
                <numerusform>%n Einträge seines Kontos</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n file of its account|files of its account</source>
            <translation>
                <numerusform>%n Datei seines Kontos</numerusform>
                <numerusform>%n Dateien seines Kontos</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n source of packages|sources of packages</source>
            <translation>
                <numerusform>%n Paketquelle</numerusform>
                <numerusform>%n Paketquellen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n key of a source|keys of sources</source>
            <translation>
                <numerusform>%n Schlüssel einer Quelle</numerusform>
                <numerusform>%n Schlüssel von Quellen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n setting of a tool|settings of tools</source>
            <translation>
                <numerusform>%n Einstellung eines Werkzeugs</numerusform>
                <numerusform>%n Einstellungen von Werkzeugen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n volume mounted with it|volumes mounted with it</source>
            <translation>
                <numerusform>%n damit eingehängter Datenträger</numerusform>
                <numerusform>%n damit eingehängte Datenträger</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n description for browsers|descriptions for browsers</source>
            <translation>
                <numerusform>%n Beschreibung für Browser</numerusform>
                <numerusform>%n Beschreibungen für Browser</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n action of a file manager|actions of file managers</source>
            <translation>
                <numerusform>%n Handlung eines Dateiverwalters</numerusform>
                <numerusform>%n Handlungen von Dateiverwaltern</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n action or key|actions or keys</source>
            <translation>
                <numerusform>%n Handlung oder Taste</numerusform>
                <numerusform>%n Handlungen oder Tasten</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n setting of the desktop|settings of the desktop</source>
            <translation>
                <numerusform>%n Einstellung der Arbeitsfläche</numerusform>
                <numerusform>%n Einstellungen der Arbeitsfläche</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n command in settings|commands in settings</source>
            <translation>
                <numerusform>%n Befehl in Einstellungen</numerusform>
                <numerusform>%n Befehle in Einstellungen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n line in settings|lines in settings</source>
            <translation>
                <numerusform>%n Zeile in Einstellungen</numerusform>
                <numerusform>%n Zeilen in Einstellungen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n setting that names it|settings that name it</source>
            <translation>
                <numerusform>%n Einstellung, die es nennt</numerusform>
                <numerusform>%n Einstellungen, die es nennen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n key that starts it|keys that start it</source>
            <translation>
                <numerusform>%n Taste, die es startet</numerusform>
                <numerusform>%n Tasten, die es starten</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n setting of ssh|settings of ssh</source>
            <translation>
                <numerusform>%n Einstellung von ssh</numerusform>
                <numerusform>%n Einstellungen von ssh</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n somebody's script|somebody's scripts</source>
            <translation>
                <numerusform>%n jemandes Skript</numerusform>
                <numerusform>%n Skripte von jemandem</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n setting in JSON|settings in JSON</source>
            <translation>
                <numerusform>%n Einstellung in JSON</numerusform>
                <numerusform>%n Einstellungen in JSON</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n setting in YAML|settings in YAML</source>
            <translation>
                <numerusform>%n Einstellung in YAML</numerusform>
                <numerusform>%n Einstellungen in YAML</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n setting in dconf|settings in dconf</source>
            <translation>
                <numerusform>%n Einstellung in dconf</numerusform>
                <numerusform>%n Einstellungen in dconf</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n choice of a command|choices of commands</source>
            <translation>
                <numerusform>%n Auswahl eines Befehls</numerusform>
                <numerusform>%n Auswahlen von Befehlen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n recent document|recent documents</source>
            <translation>
                <numerusform>%n zuletzt geöffnetes Dokument</numerusform>
                <numerusform>%n zuletzt geöffnete Dokumente</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n bookmark of a folder|bookmarks of folders</source>
            <translation>
                <numerusform>%n Lesezeichen eines Ordners</numerusform>
                <numerusform>%n Lesezeichen von Ordnern</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n note in the trash|notes in the trash</source>
            <translation>
                <numerusform>%n Notiz im Papierkorb</numerusform>
                <numerusform>%n Notizen im Papierkorb</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n turning over of its logs|turning over of its logs</source>
            <translation>
                <numerusform>%n Wechsel seiner Protokolle</numerusform>
                <numerusform>%n Wechsel seiner Protokolle</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n rule for its messages|rules for its messages</source>
            <translation>
                <numerusform>%n Regel für seine Meldungen</numerusform>
                <numerusform>%n Regeln für seine Meldungen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n record of a crash|records of crashes</source>
            <translation>
                <numerusform>%n Absturzbericht</numerusform>
                <numerusform>%n Absturzberichte</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n link into its files|links into its files</source>
            <translation>
                <numerusform>%n Verweis in seine Dateien</numerusform>
                <numerusform>%n Verweise in seine Dateien</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n link to its program|links to its program</source>
            <translation>
                <numerusform>%n Verweis auf sein Programm</numerusform>
                <numerusform>%n Verweise auf sein Programm</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n other name of its files|other names of its files</source>
            <translation>
                <numerusform>%n anderer Name seiner Dateien</numerusform>
                <numerusform>%n andere Namen seiner Dateien</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n folder of fonts|folders of fonts</source>
            <translation>
                <numerusform>%n Schriftenordner</numerusform>
                <numerusform>%n Schriftenordner</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n certificate or key|certificates or keys</source>
            <translation>
                <numerusform>%n Zertifikat oder Schlüssel</numerusform>
                <numerusform>%n Zertifikate oder Schlüssel</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n name of its service|names of its services</source>
            <translation>
                <numerusform>%n Name seines Dienstes</numerusform>
                <numerusform>%n Namen seiner Dienste</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n default of its settings|defaults of its settings</source>
            <translation>
                <numerusform>%n Vorgabe seiner Einstellungen</numerusform>
                <numerusform>%n Vorgaben seiner Einstellungen</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n module for signing in|modules for signing in</source>
            <translation>
                <numerusform>%n Modul der Anmeldung</numerusform>
                <numerusform>%n Module der Anmeldung</numerusform>
            </translation>
        </message>
        <message numerus="yes">
            <source>%n launcher|launchers</source>
            <translation>
                <numerusform>%n Starter</numerusform>
                <numerusform>%n Starter</numerusform>
            </translation>
        </message>
    </context>
</TS>
