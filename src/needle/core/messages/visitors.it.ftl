### Quello che Needle dice ai visitatori, in italiano.

field-needed = «{ $label }» è necessario.
field-long = «{ $label }» accetta al massimo { $most } caratteri; qui sono { $count }.
field-phone = «{ $label }» non sembra un numero di telefono. Inizi con + e il paese.
field-email = «{ $label }» non sembra un indirizzo e-mail.
field-one-of = «{ $label }» accetta uno di: { $choices }.
field-number = «{ $label }» accetta un numero.
field-least = «{ $label }» accetta { $least } o più.
field-most = «{ $label }» accetta { $most } o meno.
field-date = «{ $label }» accetta una data come { $example }.
field-past = «{ $label }» non accetta un giorno passato.
field-file-large = «{ $label }» accetta al massimo { $most } kB; «{ $file }» ne ha { $weight }.
field-file-empty = «{ $file }» è vuoto.
field-file-again = Per favore, scelga di nuovo «{ $label }».
field-file-kind = «{ $label }» accetta { $endings }; «{ $file }» non è nessuno di questi.
field-file-other = «{ $file }» non è quello che dice la sua estensione. Lo salvi di nuovo come { $ending } e lo invii.
here-needed = Qui manca una risposta.
here-email = Questo non sembra un indirizzo e-mail.
form-back = Indietro
form-next = Avanti
form-step = Passo { $step } di { $steps }
form-free = (se vuole)
form-choose = Scelga…
form-country = Paese di { $label }
form-trap = Lasci vuoto questo campo
form-proof = Un momento: il suo browser dimostra di non essere un robot.
form-unreached = La pagina non ha raggiunto il suo server. Le sue risposte sono ancora qui; le invii di nuovo.
form-thanks = Grazie. Abbiamo ricevuto il suo messaggio.
form-again = Per favore, riguardi ciò che è segnato.
rows-search = Cerca
rows-all = Tutto
rows-none = Niente corrisponde.
goods-from = da { $price }
goods-instead = invece di { $price }
goods-until = fino al { $day }
goods-sold-out = Esaurito
goods-left = { $count ->
    [one] Ne resta uno solo
   *[other] Ne restano solo { $count }
}
goods-rated = { $rating } su 5 con { $count ->
    [one] una valutazione
   *[other] { $count } valutazioni
}
cart-sold-out = { $thing } è esaurito.
cart-fewer = Di { $thing } { $left ->
    [one] ne resta solo uno
   *[other] ne restano solo { $left }
}; nel carrello ce ne sono { $count }.
cart-other-price = { $thing } costa ora diversamente da quando l’ha aggiunto.
cart-gone = { $count ->
    [one] Un articolo nel carrello non è più in vendita.
   *[other] { $count } articoli nel carrello non sono più in vendita.
}
order-is = L’ordine n. { $number } { $state }.
order-new = è registrato
order-paid = è pagato
order-sent = è in viaggio
order-done = è concluso
order-cancelled = è stato ritirato
order-lapsed = non è stato pagato in tempo ed è di nuovo libero
order-pay = Paga ora
order-pay-down = Il suo ordine n. { $number } è salvato. Il servizio di pagamento al momento non risponde. Riprovi tra un po’.
order-waits = Attende il pagamento.
order-until = Teniamo tutto da parte per lei fino a { $until }.
order-odd = È stata pagata una somma diversa. Stiamo verificando.
order-back = { $amount } rimborsati
order-back-waits = { $amount } in corso di rimborso
order-words = Ordine n. { $number }
order-dead = Questo link è troppo vecchio, o l’ordine non è più conservato.
order-again = Ordinare di nuovo lo stesso
order-take-back = Ritirare l’ordine
order-look = Vederlo o ritirarlo
coupon = Codice sconto
coupon-off = Sconto { $code }
coupon-none = Il codice { $code } non esiste.
coupon-day = Il codice { $code } oggi non vale.
coupon-sum = Il codice { $code } vale da { $sum }.
coupon-used-up = Il codice { $code } è esaurito.
coupon-once = Il codice { $code } vale una volta per persona.
cart-closed = Questo negozio è chiuso al momento.
cart-show = Mostra il carrello
cart-add = Nel carrello
cart-count = Quantità
cart-which = Quale
cart-empty = Il carrello è vuoto.
cart-again = Ricalcola
cart-things = Articoli
cart-way = Come le arriva
cart-no-way = Scelga come le arriva.
cart-ordered = Questo carrello è già ordinato. Lo dice la lettera che ha ricevuto.
cart-firm = Non è un numero di partita IVA di quel paese: { $number }.
cart-land = Paese
cart-firm-number = Partita IVA, per un’impresa di un altro paese
cart-untaxed = Imposta dovuta nel suo paese
cart-reverse = Inversione contabile: { $number }.
cart-no-pay = Scelga come paga.
cart-pay = Come paga
cart-tax-in = di cui imposta, { $percent } %
cart-tax-on = imposta, { $percent } %
cart-total = Da pagare
cart-order = Il suo ordine
cart-clear = Togli ciò che non è più in vendita
rows-more = Mostra altro
trail-label = Percorso verso questa pagina
gallery = Immagini
countdown-days = giorni
countdown-hours = ore
countdown-minutes = minuti
countdown-seconds = secondi
countdown-plain = Fino al { $moment }
video-play = Riproduci il video
video-play-title = Riproduci: { $title }
video-from = { $play } (caricato da { $host })
price-included = Compreso
price-best = Consigliato
menu-open = Menu
menu-site = Sito
progress-bar = Avanzamento
skip-link = Vai al contenuto
popup-close = Chiudi
popup-unnamed = Finestra
consent-banner = Consenso
consent-needed = necessario
consent-statistics = statistiche
consent-marketing = marketing
price-missing = Non compreso
chart-series = Serie { $number }
chart-value = Valore
chart-title = Grafico
host-no-page = Non c’è nessuna pagina a { $address }.
host-page-off = La pagina { $address } è stata appena tolta.
host-page-gone = La pagina { $address } non esiste più.
host-part-gone = Questo modulo non è più qui.
host-no-file = Questo file non esiste.
host-site-down = Questo sito ora non può essere mostrato. Chi lo gestisce sa perché.
host-form-gone = Questo modulo non c’è più.
host-form-key = Questa non è la chiave di un modulo.
host-form-keeps-nothing = Questo modulo non conserva nulla che non sia inviato.
host-form-broken = Le risposte sono arrivate danneggiate. Le invii di nuovo dalla pagina stessa.
host-form-utf8 = Le risposte non sono in UTF-8. Le invii di nuovo dalla pagina stessa.
host-form-odd = Questo modulo è stato inviato in un modo che non capisce.
host-form-large = È più di quanto il modulo possa accettare. Invii meno.
host-form-large-file = È più di quanto il modulo possa accettare. Un file ha al massimo { $most } kB.
host-needs-script = Per questo occorre attivare JavaScript.
lead-queue-full = In questo momento inviano in moltissimi. Le sue risposte sono ancora qui; le invii di nuovo tra un minuto.
lead-disk-full = Non è stato possibile conservare l’invio: il disco del server è pieno. Le sue risposte sono ancora qui; le invii di nuovo più tardi.
lead-storage-failed = Non è stato possibile conservare l’invio: l’archivio del server non ha funzionato. Le sue risposte sono ancora qui; le invii di nuovo più tardi.
letter-open-within = { $days ->
    [one] Da aprire entro un giorno
   *[other] Da aprire entro { $days } giorni
}
letter-from = Da { $name }
letter-words = Grazie. Ecco quello che ha chiesto.
confirm-subject = Confermi il suo indirizzo
confirm-words = Segua questo link, così sappiamo che l’indirizzo è suo.
letter-confirm = Conferma
confirm-button = Confermo il mio indirizzo
confirm-press = Ancora un clic e il suo indirizzo è confermato.
confirm-done = Grazie. Il suo indirizzo è confermato.
confirm-dead = Questo link non funziona più. Compili di nuovo il modulo.
confirm-erased = Questa iscrizione è stata cancellata. Compili di nuovo il modulo.
file-dead = Questo link non funziona più. Chieda di nuovo il file.
file-gone = Il file non c’è più. Per favore ce lo dica.
paper-packing = Distinta, ordine n. { $number }
paper-invoice = Fattura { $number }
paper-of = Del { $day }
paper-order = Ordine n. { $number } del { $day }
paper-thing = Articolo
paper-sku = Codice
paper-pieces = Pezzi
paper-packed = Imballato
paper-each = Prezzo
paper-sum = Importo
paper-net = Imponibile, al { $percent } %
paper-tax = Imposta, { $percent } %
paper-total = Totale
