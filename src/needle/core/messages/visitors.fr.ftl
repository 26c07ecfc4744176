### Ce que Needle dit aux visiteurs, en français.

field-needed = « { $label } » est nécessaire.
field-long = « { $label } » accepte au plus { $most } caractères ; il y en a { $count }.
field-phone = « { $label } » ne ressemble pas à un numéro de téléphone. Commencez par + et le pays.
field-email = « { $label } » ne ressemble pas à une adresse e-mail.
field-one-of = « { $label } » accepte l’un de : { $choices }.
field-number = « { $label } » accepte un nombre.
field-least = « { $label } » accepte { $least } ou plus.
field-most = « { $label } » accepte { $most } ou moins.
field-date = « { $label } » accepte une date comme { $example }.
field-past = « { $label } » n’accepte pas un jour passé.
field-file-large = « { $label } » accepte au plus { $most } ko ; « { $file } » en fait { $weight }.
field-file-empty = « { $file } » est vide.
field-file-again = Veuillez choisir « { $label } » à nouveau.
field-file-kind = « { $label } » accepte { $endings } ; « { $file } » n’en est pas un.
field-file-other = « { $file } » n’est pas ce que dit son extension. Enregistrez-le de nouveau en { $ending } puis envoyez-le.
here-needed = Une réponse est nécessaire ici.
here-email = Ceci ne ressemble pas à une adresse e-mail.
form-back = Retour
form-next = Suivant
form-step = Étape { $step } sur { $steps }
form-free = (si vous voulez)
form-choose = Choisir…
form-country = Pays pour { $label }
form-trap = Laissez ceci vide
form-proof = Un instant : votre navigateur prouve qu’il n’est pas un robot.
form-unreached = La page n’a pas pu joindre son serveur. Vos réponses sont encore ici ; envoyez-les de nouveau.
form-thanks = Merci. Nous avons bien reçu votre message.
form-again = Veuillez revoir ce qui est signalé.
rows-search = Rechercher
rows-all = Tout
rows-none = Rien ne correspond.
goods-from = à partir de { $price }
goods-instead = au lieu de { $price }
goods-until = jusqu’au { $day }
goods-sold-out = Épuisé
goods-left = { $count ->
    [one] Plus qu’un seul
   *[other] Plus que { $count }
}
goods-rated = { $rating } sur 5 pour { $count ->
    [one] un avis
   *[other] { $count } avis
}
cart-sold-out = { $thing } est épuisé.
cart-fewer = De { $thing }, { $left ->
    [one] il n’en reste qu’un
   *[other] il n’en reste que { $left }
} ; votre panier en contient { $count }.
cart-other-price = { $thing } n’a plus le même prix qu’à l’ajout.
cart-gone = { $count ->
    [one] Un article de votre panier n’est plus vendu.
   *[other] { $count } articles de votre panier ne sont plus vendus.
}
order-is = La commande n° { $number } { $state }.
order-new = est notée
order-paid = est payée
order-sent = est en route
order-done = est terminée
order-cancelled = a été retirée
order-lapsed = n’a pas été payée à temps et est de nouveau libre
order-pay = Payer maintenant
order-pay-down = Votre commande n° { $number } est enregistrée. Le service de paiement ne répond pas pour l’instant. Réessayez dans un moment.
order-waits = Elle attend le paiement.
order-until = Tout est gardé pour vous jusqu’à { $until }.
order-odd = Une autre somme que la sienne a été payée. Nous vérifions.
order-back = { $amount } ont été remboursés
order-back-waits = { $amount } sont en cours de remboursement
order-words = Commande n° { $number }
order-dead = Ce lien est trop ancien, ou cette commande n’est plus conservée.
order-again = Commander la même chose
order-take-back = Retirer la commande
order-look = La voir ou la retirer
coupon = Code de réduction
coupon-off = Réduction { $code }
coupon-none = Il n’y a pas de code { $code }.
coupon-day = Le code { $code } n’est pas valable aujourd’hui.
coupon-sum = Le code { $code } vaut à partir de { $sum }.
coupon-used-up = Le code { $code } est épuisé.
coupon-once = Le code { $code } vaut une fois par personne.
cart-closed = Cette boutique est fermée pour le moment.
cart-show = Voir le panier
cart-add = Ajouter au panier
cart-count = Quantité
cart-which = Lequel
cart-empty = Votre panier est vide.
cart-again = Recalculer
cart-things = Articles
cart-way = Comment vous le recevez
cart-no-way = Choisissez comment vous le recevez.
cart-ordered = Ce panier est déjà commandé. La lettre que vous avez reçue le dit.
cart-firm = Ce n’est pas un numéro de TVA de ce pays : { $number }.
cart-land = Pays
cart-firm-number = Numéro de TVA, pour une entreprise d’un autre pays
cart-untaxed = Taxe due dans votre propre pays
cart-reverse = Autoliquidation : { $number }.
cart-no-pay = Choisissez comment vous payez.
cart-pay = Comment vous payez
cart-tax-in = dont taxes, { $percent } %
cart-tax-on = taxes, { $percent } %
cart-total = À payer
cart-order = Votre commande
cart-clear = Enlever ce qui n’est plus vendu
rows-more = Afficher plus
trail-label = Chemin vers cette page
gallery = Images
countdown-days = jours
countdown-hours = heures
countdown-minutes = minutes
countdown-seconds = secondes
countdown-plain = Jusqu’au { $moment }
video-play = Lire la vidéo
video-play-title = Lire : { $title }
video-from = { $play } (chargée depuis { $host })
price-included = Compris
price-best = Conseillé
menu-open = Menu
menu-site = Site
progress-bar = Progression
skip-link = Aller au contenu
popup-close = Fermer
popup-unnamed = Fenêtre
consent-banner = Consentement
consent-needed = nécessaire
consent-statistics = statistiques
consent-marketing = marketing
price-missing = Non compris
chart-series = Série { $number }
chart-value = Valeur
chart-title = Graphique
host-no-page = Il n’y a pas de page à { $address }.
host-page-off = La page { $address } vient d’être retirée.
host-page-gone = La page { $address } n’existe plus.
host-part-gone = Ce formulaire n’est plus ici.
host-no-file = Ce fichier n’existe pas.
host-site-down = Ce site ne peut pas être affiché pour le moment. Son propriétaire sait pourquoi.
host-form-gone = Ce formulaire n’existe plus.
host-form-key = Ceci n’est pas la clé d’un formulaire.
host-form-keeps-nothing = Ce formulaire ne garde rien qui ne soit envoyé.
host-form-broken = Les réponses sont arrivées abîmées. Envoyez-les de nouveau depuis la page elle-même.
host-form-utf8 = Les réponses ne sont pas en UTF-8. Envoyez-les de nouveau depuis la page elle-même.
host-form-odd = Ce formulaire a été envoyé d’une manière qu’il ne comprend pas.
host-form-large = C’est plus que le formulaire ne peut accepter. Envoyez-en moins.
host-form-large-file = C’est plus que le formulaire ne peut accepter. Un fichier fait au plus { $most } ko.
host-needs-script = JavaScript doit être activé pour cela.
lead-queue-full = Beaucoup de personnes envoient en ce moment. Vos réponses sont encore ici ; envoyez-les de nouveau dans une minute.
lead-disk-full = Ceci n’a pas pu être gardé : le disque du serveur est plein. Vos réponses sont encore ici ; envoyez-les de nouveau plus tard.
lead-storage-failed = Ceci n’a pas pu être gardé : le stockage du serveur a échoué. Vos réponses sont encore ici ; envoyez-les de nouveau plus tard.
letter-open-within = { $days ->
    [one] À ouvrir dans la journée
   *[other] À ouvrir dans les { $days } jours
}
letter-from = De { $name }
letter-words = Merci. Voici ce que vous avez demandé.
confirm-subject = Merci de confirmer votre adresse
confirm-words = Suivez ce lien pour que nous sachions que l’adresse est la vôtre.
letter-confirm = Confirmer
confirm-button = Confirmer mon adresse
confirm-press = Encore un clic, et votre adresse est confirmée.
confirm-done = Merci. Votre adresse est confirmée.
confirm-dead = Ce lien ne fonctionne plus. Remplissez de nouveau le formulaire.
confirm-erased = Cette inscription a été effacée. Remplissez de nouveau le formulaire.
file-dead = Ce lien ne fonctionne plus. Demandez de nouveau le fichier.
file-gone = Le fichier n’est plus là. Merci de nous le dire.
paper-packing = Bordereau d’expédition, commande n° { $number }
paper-invoice = Facture { $number }
paper-of = Du { $day }
paper-order = Commande n° { $number } du { $day }
paper-thing = Article
paper-sku = Référence
paper-pieces = Quantité
paper-packed = Emballé
paper-each = Prix
paper-sum = Montant
paper-net = Hors taxe, à { $percent } %
paper-tax = Taxe, { $percent } %
paper-total = Total
