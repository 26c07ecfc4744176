### Wat Needle tegen bezoekers zegt, in het Nederlands.

field-needed = ‘{ $label }’ is nodig.
field-long = ‘{ $label }’ mag hooguit { $most } tekens hebben; dit zijn er { $count }.
field-phone = ‘{ $label }’ lijkt geen telefoonnummer. Begin met + en het land.
field-email = ‘{ $label }’ lijkt geen e-mailadres.
field-one-of = ‘{ $label }’ is een van: { $choices }.
field-number = ‘{ $label }’ is een getal.
field-least = ‘{ $label }’ is { $least } of meer.
field-most = ‘{ $label }’ is { $most } of minder.
field-date = ‘{ $label }’ is een datum zoals { $example }.
field-past = ‘{ $label }’ mag geen dag zijn die voorbij is.
field-file-large = ‘{ $label }’ mag hooguit { $most } kB zijn; ‘{ $file }’ is { $weight } kB.
field-file-empty = ‘{ $file }’ is leeg.
field-file-again = Kies ‘{ $label }’ opnieuw.
field-file-kind = ‘{ $label }’ neemt { $endings }; ‘{ $file }’ is geen van deze.
field-file-other = ‘{ $file }’ is niet wat de uitgang zegt. Sla het opnieuw op als { $ending } en stuur dat.
here-needed = Hier ontbreekt nog een antwoord.
here-email = Dit lijkt geen e-mailadres.
form-back = Terug
form-next = Verder
form-step = Stap { $step } van { $steps }
form-free = (als u wilt)
form-choose = Kies…
form-country = Land van { $label }
form-trap = Laat dit leeg
form-proof = Een ogenblik: uw browser bewijst dat hij geen robot is.
form-unreached = De pagina kon haar server niet bereiken. Uw antwoorden staan er nog; stuur ze opnieuw.
form-thanks = Dank u wel. We hebben uw bericht.
form-again = Kijk nog eens naar wat gemarkeerd is.
rows-search = Zoeken
rows-all = Alles
rows-none = Er past hier niets.
goods-from = vanaf { $price }
goods-instead = in plaats van { $price }
goods-until = tot en met { $day }
goods-sold-out = Uitverkocht
goods-left = { $count ->
    [one] Nog maar één
   *[other] Nog maar { $count }
}
goods-rated = { $rating } van 5 uit { $count ->
    [one] één beoordeling
   *[other] { $count } beoordelingen
}
cart-sold-out = { $thing } is uitverkocht.
cart-fewer = Van { $thing } { $left ->
    [one] is er nog maar één
   *[other] zijn er nog maar { $left }
}; in uw mandje zitten er { $count }.
cart-other-price = { $thing } kost nu iets anders dan toen u het erin deed.
cart-gone = { $count ->
    [one] Eén artikel in uw mandje wordt
   *[other] { $count } artikelen in uw mandje worden
} niet meer verkocht.
order-is = Bestelling nr. { $number } { $state }.
order-new = is genoteerd
order-paid = is betaald
order-sent = is onderweg
order-done = is klaar
order-cancelled = is teruggenomen
order-lapsed = is niet op tijd betaald en weer vrij
order-pay = Nu betalen
order-pay-down = Uw bestelling nr. { $number } is bewaard. De betaaldienst antwoordt nu niet. Probeer het over een poosje nog eens.
order-waits = Zij wacht op betaling.
order-until = Alles ligt voor u klaar tot { $until }.
order-odd = Er is iets anders betaald dan zij kost. Wij zoeken het uit.
order-back = { $amount } is terugbetaald
order-back-waits = { $amount } wordt terugbetaald
order-words = Bestelling nr. { $number }
order-dead = Deze link is te oud, of deze bestelling wordt niet meer bewaard.
order-again = Hetzelfde nog eens bestellen
order-take-back = De bestelling terugnemen
order-look = Bekijken of terugnemen
coupon = Kortingscode
coupon-off = Korting { $code }
coupon-none = Er is geen code { $code }.
coupon-day = De code { $code } geldt vandaag niet.
coupon-sum = De code { $code } geldt vanaf { $sum }.
coupon-used-up = De code { $code } is op.
coupon-once = De code { $code } geldt één keer per persoon.
cart-closed = Deze winkel is nu gesloten.
cart-show = Toon het mandje
cart-add = In het mandje
cart-count = Aantal
cart-which = Welke
cart-empty = Uw mandje is leeg.
cart-again = Opnieuw tellen
cart-things = Artikelen
cart-way = Hoe het bij u komt
cart-no-way = Kies hoe het bij u komt.
cart-ordered = Deze winkelwagen is al besteld. De brief aan u zegt het.
cart-firm = Dat is geen btw-nummer van dat land: { $number }.
cart-land = Land
cart-firm-number = Btw-nummer, voor een bedrijf in een ander land
cart-untaxed = Belasting die u in uw eigen land verschuldigd bent
cart-reverse = Btw verlegd: { $number }.
cart-no-pay = Kies hoe u betaalt.
cart-pay = Hoe u betaalt
cart-tax-in = waarvan belasting, { $percent } %
cart-tax-on = belasting, { $percent } %
cart-total = Te betalen
cart-order = Uw bestelling
cart-clear = Weg met wat niet meer verkocht wordt
rows-more = Meer tonen
trail-label = Weg naar deze pagina
gallery = Beelden
countdown-days = dagen
countdown-hours = uren
countdown-minutes = minuten
countdown-seconds = seconden
countdown-plain = Tot { $moment }
video-play = De video afspelen
video-play-title = Afspelen: { $title }
video-from = { $play } (laadt van { $host })
price-included = Inbegrepen
price-best = Aanbevolen
menu-open = Menu
menu-site = Site
progress-bar = Voortgang
skip-link = Naar de inhoud
popup-close = Sluiten
popup-unnamed = Venster
consent-banner = Toestemming
consent-needed = nodig
consent-statistics = statistieken
consent-marketing = marketing
price-missing = Niet inbegrepen
chart-series = Reeks { $number }
chart-value = Waarde
chart-title = Grafiek
host-no-page = Er is geen pagina op { $address }.
host-page-off = De pagina { $address } is zojuist weggehaald.
host-page-gone = De pagina { $address } bestaat niet meer.
host-part-gone = Dit formulier staat hier niet meer.
host-no-file = Dat bestand is er niet.
host-site-down = Deze site kan nu niet worden getoond. De eigenaar weet waarom.
host-form-gone = Dit formulier is er niet meer.
host-form-key = Dit is niet de sleutel van een formulier.
host-form-keeps-nothing = Dit formulier bewaart niets dat niet is verstuurd.
host-form-broken = De antwoorden kwamen beschadigd aan. Stuur ze opnieuw vanaf de pagina zelf.
host-form-utf8 = De antwoorden zijn niet in UTF-8. Stuur ze opnieuw vanaf de pagina zelf.
host-form-odd = Dit formulier is gestuurd op een manier die het niet begrijpt.
host-form-large = Dit is meer dan het formulier aankan. Stuur minder.
host-form-large-file = Dit is meer dan het formulier aankan. Een bestand is hooguit { $most } kB.
host-needs-script = Hiervoor moet JavaScript aan staan.
lead-queue-full = Er sturen nu heel veel mensen. Uw antwoorden staan er nog; stuur ze over een minuut opnieuw.
lead-disk-full = Dit kon niet worden bewaard: de schijf van de server is vol. Uw antwoorden staan er nog; stuur ze later opnieuw.
lead-storage-failed = Dit kon niet worden bewaard: de opslag van de server faalde. Uw antwoorden staan er nog; stuur ze later opnieuw.
letter-open-within = { $days ->
    [one] Binnen een dag openen
   *[other] Binnen { $days } dagen openen
}
letter-from = Van { $name }
letter-words = Dank u wel. Hier is waar u om vroeg.
confirm-subject = Bevestig uw adres
confirm-words = Volg deze link, zodat we weten dat het adres van u is.
letter-confirm = Bevestigen
confirm-button = Mijn adres bevestigen
confirm-press = Nog één klik en uw adres is bevestigd.
confirm-done = Dank u wel. Uw adres is bevestigd.
confirm-dead = Deze link werkt niet meer. Vul het formulier opnieuw in.
confirm-erased = Deze aanmelding is gewist. Vul het formulier opnieuw in.
file-dead = Deze link werkt niet meer. Vraag het bestand opnieuw aan.
file-gone = Het bestand is er niet meer. Laat het ons weten.
paper-packing = Paklijst, bestelling nr. { $number }
paper-invoice = Factuur { $number }
paper-of = Van { $day }
paper-order = Bestelling nr. { $number } van { $day }
paper-thing = Artikel
paper-sku = Artikelnummer
paper-pieces = Stuks
paper-packed = Ingepakt
paper-each = Per stuk
paper-sum = Bedrag
paper-net = Netto, tegen { $percent } %
paper-tax = Belasting, { $percent } %
paper-total = Totaal
