### Was Needle Besuchern sagt, auf Deutsch.

field-needed = „{ $label }“ wird gebraucht.
field-long = „{ $label }“ fasst höchstens { $most } Zeichen; hier sind es { $count }.
field-phone = „{ $label }“ sieht nicht nach einer Telefonnummer aus. Beginnen Sie mit + und der Landesvorwahl.
field-email = „{ $label }“ sieht nicht nach einer E-Mail-Adresse aus.
field-one-of = „{ $label }“ nimmt eines von: { $choices }.
field-number = „{ $label }“ nimmt eine Zahl.
field-least = „{ $label }“ nimmt { $least } oder mehr.
field-most = „{ $label }“ nimmt { $most } oder weniger.
field-date = „{ $label }“ nimmt ein Datum wie { $example }.
field-past = „{ $label }“ nimmt keinen vergangenen Tag.
field-file-large = „{ $label }“ nimmt höchstens { $most } kB; „{ $file }“ hat { $weight } kB.
field-file-empty = „{ $file }“ ist leer.
field-file-again = Bitte wählen Sie „{ $label }“ noch einmal aus.
field-file-kind = „{ $label }“ nimmt { $endings }; „{ $file }“ ist nichts davon.
field-file-other = „{ $file }“ ist nicht, was die Endung sagt. Bitte neu als { $ending } speichern und dann senden.
here-needed = Hier fehlt noch eine Antwort.
here-email = Das sieht nicht nach einer E-Mail-Adresse aus.
form-back = Zurück
form-next = Weiter
form-step = Schritt { $step } von { $steps }
form-free = (wenn Sie möchten)
form-choose = Bitte wählen…
form-country = Land zu { $label }
form-trap = Bitte leer lassen
form-proof = Einen Moment: Ihr Browser weist nach, dass er kein Roboter ist.
form-unreached = Die Seite konnte ihren Server nicht erreichen. Ihre Antworten sind noch hier; bitte noch einmal senden.
form-thanks = Danke. Ihre Nachricht ist angekommen.
form-again = Bitte sehen Sie sich an, was markiert ist.
rows-search = Suchen
rows-all = Alle
rows-none = Hier passt nichts.
goods-from = ab { $price }
goods-instead = statt { $price }
goods-until = bis { $day }
goods-sold-out = Ausverkauft
goods-left = { $count ->
    [one] Nur noch eines da
   *[other] Nur noch { $count } da
}
goods-rated = { $rating } von 5 bei { $count ->
    [one] einer Bewertung
   *[other] { $count } Bewertungen
}
cart-sold-out = { $thing } ist ausverkauft.
cart-fewer = Von { $thing } { $left ->
    [one] ist nur noch eines
   *[other] sind nur noch { $left }
} da; in Ihrem Korb sind { $count }.
cart-other-price = { $thing } kostet jetzt etwas anderes als beim Hineinlegen.
cart-gone = { $count ->
    [one] Ein Stück in Ihrem Korb wird
   *[other] { $count } Stücke in Ihrem Korb werden
} nicht mehr verkauft.
order-is = Die Bestellung Nr. { $number } { $state }.
order-new = ist vorgemerkt
order-paid = ist bezahlt
order-sent = ist unterwegs
order-done = ist erledigt
order-cancelled = wurde zurückgenommen
order-lapsed = wurde nicht rechtzeitig bezahlt und ist wieder frei
order-pay = Jetzt zahlen
order-pay-down = Ihre Bestellung Nr. { $number } ist gespeichert. Der Zahlungsdienst antwortet gerade nicht. Bitte versuchen Sie es in einer Weile noch einmal.
order-waits = Sie wartet auf die Zahlung.
order-until = Bis { $until } ist alles für Sie zurückgelegt.
order-odd = Es wurde etwas anderes gezahlt, als sie kostet. Wir gehen dem nach.
order-back = { $amount } wurde zurückgezahlt
order-back-waits = { $amount } wird zurückgezahlt
order-words = Bestellung Nr. { $number }
order-dead = Dieser Link ist zu alt, oder diese Bestellung wird nicht mehr aufbewahrt.
order-again = Das Gleiche noch einmal bestellen
order-take-back = Die Bestellung zurücknehmen
order-look = Ansehen oder zurücknehmen
coupon = Gutscheincode
coupon-off = Gutschein { $code }
coupon-none = Einen Gutschein { $code } gibt es nicht.
coupon-day = Der Gutschein { $code } gilt heute nicht.
coupon-sum = Der Gutschein { $code } gilt ab { $sum }.
coupon-used-up = Der Gutschein { $code } ist aufgebraucht.
coupon-once = Der Gutschein { $code } gilt für jede Person einmal.
cart-closed = Dieser Laden ist gerade geschlossen.
cart-show = Den Korb zeigen
cart-add = In den Korb
cart-count = Anzahl
cart-which = Welches
cart-empty = Ihr Korb ist leer.
cart-again = Neu rechnen
cart-things = Waren
cart-way = Wie es zu Ihnen kommt
cart-no-way = Bitte wählen Sie, wie es zu Ihnen kommt.
cart-ordered = Dieser Warenkorb ist schon bestellt. Der Brief an Sie sagt es.
cart-firm = Das ist keine Umsatzsteuernummer dieses Landes: { $number }.
cart-land = Land
cart-firm-number = Umsatzsteuer-ID, für ein Unternehmen in einem anderen Land
cart-untaxed = Steuer, die Sie im eigenen Land schulden
cart-reverse = Steuerschuldnerschaft des Leistungsempfängers: { $number }.
cart-no-pay = Bitte wählen Sie, wie Sie zahlen.
cart-pay = Wie Sie zahlen
cart-tax-in = darin Steuer, { $percent } %
cart-tax-on = Steuer, { $percent } %
cart-total = Zu zahlen
cart-order = Ihre Bestellung
cart-clear = Nicht mehr Verkauftes entfernen
rows-more = Mehr zeigen
trail-label = Weg zu dieser Seite
gallery = Bilder
countdown-days = Tage
countdown-hours = Stunden
countdown-minutes = Minuten
countdown-seconds = Sekunden
countdown-plain = Bis { $moment }
video-play = Video abspielen
video-play-title = Abspielen: { $title }
video-from = { $play } (lädt von { $host })
price-included = Enthalten
price-best = Empfohlen
menu-open = Menü
menu-site = Website
progress-bar = Fortschritt
skip-link = Zum Inhalt
popup-close = Schließen
popup-unnamed = Fenster
consent-banner = Einwilligung
consent-needed = notwendig
consent-statistics = Statistik
consent-marketing = Marketing
price-missing = Nicht enthalten
chart-series = Reihe { $number }
chart-value = Wert
chart-title = Diagramm
host-no-page = Unter { $address } gibt es keine Seite.
host-page-off = Die Seite { $address } wurde gerade abgeschaltet.
host-page-gone = Die Seite { $address } gibt es nicht mehr.
host-part-gone = Dieses Formular gibt es hier nicht mehr.
host-no-file = Diese Datei gibt es nicht.
host-site-down = Diese Website kann gerade nicht gezeigt werden. Ihr Betreiber weiß, warum.
host-form-gone = Dieses Formular gibt es nicht mehr.
host-form-key = Das ist kein Schlüssel eines Formulars.
host-form-keeps-nothing = Dieses Formular behält nichts, was nicht gesendet wurde.
host-form-broken = Die Antworten kamen beschädigt an. Bitte von der Seite selbst noch einmal senden.
host-form-utf8 = Die Antworten sind nicht in UTF-8. Bitte von der Seite selbst noch einmal senden.
host-form-odd = Dieses Formular wurde auf eine Weise gesendet, die es nicht versteht.
host-form-large = Das ist mehr, als das Formular fassen kann. Bitte weniger senden.
host-form-large-file = Das ist mehr, als das Formular fassen kann. Eine Datei hat höchstens { $most } kB.
host-needs-script = Dafür muss JavaScript eingeschaltet sein.
lead-queue-full = Gerade senden sehr viele. Ihre Antworten sind noch hier; bitte in einer Minute noch einmal senden.
lead-disk-full = Das konnte nicht gespeichert werden: Die Platte des Servers ist voll. Ihre Antworten sind noch hier; bitte später noch einmal senden.
lead-storage-failed = Das konnte nicht gespeichert werden: Der Speicher des Servers hat versagt. Ihre Antworten sind noch hier; bitte später noch einmal senden.
letter-open-within = { $days ->
    [one] Innerhalb eines Tages öffnen
   *[other] Innerhalb von { $days } Tagen öffnen
}
letter-from = Von { $name }
letter-words = Danke. Hier ist, worum Sie gebeten haben.
confirm-subject = Bitte bestätigen Sie Ihre Adresse
confirm-words = Bitte folgen Sie diesem Link, damit wir wissen, dass die Adresse Ihnen gehört.
letter-confirm = Bestätigen
confirm-button = Meine Adresse bestätigen
confirm-press = Noch ein Klick, und Ihre Adresse ist bestätigt.
confirm-done = Danke. Ihre Adresse ist bestätigt.
confirm-dead = Dieser Link gilt nicht mehr. Bitte füllen Sie das Formular noch einmal aus.
confirm-erased = Diese Anmeldung wurde gelöscht. Bitte füllen Sie das Formular noch einmal aus.
file-dead = Dieser Link gilt nicht mehr. Bitte fordern Sie die Datei noch einmal an.
file-gone = Die Datei ist nicht mehr da. Bitte sagen Sie uns Bescheid.
paper-packing = Packzettel, Bestellung Nr. { $number }
paper-invoice = Rechnung { $number }
paper-of = Vom { $day }
paper-order = Bestellung Nr. { $number } vom { $day }
paper-thing = Artikel
paper-sku = Artikelnummer
paper-pieces = Stück
paper-packed = Gepackt
paper-each = Einzeln
paper-sum = Summe
paper-net = Netto, zu { $percent } %
paper-tax = Steuer, { $percent } %
paper-total = Gesamt
