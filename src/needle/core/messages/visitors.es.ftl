### Lo que Needle dice a los visitantes, en español.

field-needed = Falta «{ $label }».
field-long = «{ $label }» admite como máximo { $most } caracteres; hay { $count }.
field-phone = «{ $label }» no parece un número de teléfono. Empiece por + y el país.
field-email = «{ $label }» no parece una dirección de correo.
field-one-of = «{ $label }» admite uno de: { $choices }.
field-number = «{ $label }» admite un número.
field-least = «{ $label }» admite { $least } o más.
field-most = «{ $label }» admite { $most } o menos.
field-date = «{ $label }» admite una fecha como { $example }.
field-past = «{ $label }» no admite un día pasado.
field-file-large = «{ $label }» admite como máximo { $most } kB; «{ $file }» tiene { $weight } kB.
field-file-empty = «{ $file }» está vacío.
field-file-again = Elija «{ $label }» otra vez, por favor.
field-file-kind = «{ $label }» admite { $endings }; «{ $file }» no es ninguno de ellos.
field-file-other = «{ $file }» no es lo que dice su extensión. Guárdelo de nuevo como { $ending } y envíelo.
here-needed = Aquí falta una respuesta.
here-email = Esto no parece una dirección de correo.
form-back = Atrás
form-next = Siguiente
form-step = Paso { $step } de { $steps }
form-free = (si lo desea)
form-choose = Elija…
form-country = País de { $label }
form-trap = Deje esto vacío
form-proof = Un momento: su navegador demuestra que no es un robot.
form-unreached = La página no pudo llegar a su servidor. Sus respuestas siguen aquí; envíelas de nuevo.
form-thanks = Gracias. Hemos recibido su mensaje.
form-again = Revise lo que está marcado, por favor.
rows-search = Buscar
rows-all = Todo
rows-none = Nada coincide.
goods-from = desde { $price }
goods-instead = en lugar de { $price }
goods-until = hasta el { $day }
goods-sold-out = Agotado
goods-left = { $count ->
    [one] Solo queda uno
   *[other] Solo quedan { $count }
}
goods-rated = { $rating } de 5 con { $count ->
    [one] una valoración
   *[other] { $count } valoraciones
}
cart-sold-out = { $thing } está agotado.
cart-fewer = De { $thing } { $left ->
    [one] queda solo uno
   *[other] quedan solo { $left }
}; en su cesta hay { $count }.
cart-other-price = { $thing } cuesta ahora otra cosa que al añadirlo.
cart-gone = { $count ->
    [one] Un artículo de su cesta ya no se vende.
   *[other] { $count } artículos de su cesta ya no se venden.
}
order-is = El pedido n.º { $number } { $state }.
order-new = está anotado
order-paid = está pagado
order-sent = está en camino
order-done = está terminado
order-cancelled = fue retirado
order-lapsed = no se pagó a tiempo y vuelve a estar libre
order-pay = Pagar ahora
order-pay-down = Su pedido n.º { $number } está guardado. El servicio de pago no responde en este momento. Inténtelo de nuevo dentro de un rato.
order-waits = Espera el pago.
order-until = Lo guardamos para usted hasta { $until }.
order-odd = Se pagó otra cantidad de la que cuesta. Lo estamos comprobando.
order-back = Se devolvieron { $amount }
order-back-waits = Se están devolviendo { $amount }
order-words = Pedido n.º { $number }
order-dead = Este enlace es demasiado antiguo o el pedido ya no se guarda.
order-again = Pedir lo mismo otra vez
order-take-back = Retirar el pedido
order-look = Verlo o retirarlo
coupon = Cupón
coupon-off = Cupón { $code }
coupon-none = No existe el cupón { $code }.
coupon-day = El cupón { $code } no vale hoy.
coupon-sum = El cupón { $code } vale a partir de { $sum }.
coupon-used-up = El cupón { $code } está agotado.
coupon-once = El cupón { $code } vale una vez por persona.
cart-closed = Esta tienda está cerrada ahora.
cart-show = Ver la cesta
cart-add = Añadir a la cesta
cart-count = Cantidad
cart-which = Cuál
cart-empty = Su cesta está vacía.
cart-again = Volver a calcular
cart-things = Artículos
cart-way = Cómo le llega
cart-no-way = Elija cómo le llega.
cart-ordered = Este carrito ya está pedido. La carta que recibió lo dice.
cart-firm = No es un número de IVA de ese país: { $number }.
cart-land = País
cart-firm-number = Número de IVA, para una empresa de otro país
cart-untaxed = Impuesto que debe en su propio país
cart-reverse = Inversión del sujeto pasivo: { $number }.
cart-no-pay = Elija cómo paga.
cart-pay = Cómo paga
cart-tax-in = de ello impuestos, { $percent } %
cart-tax-on = impuestos, { $percent } %
cart-total = A pagar
cart-order = Su pedido
cart-clear = Quitar lo que ya no se vende
rows-more = Mostrar más
trail-label = Camino a esta página
gallery = Imágenes
countdown-days = días
countdown-hours = horas
countdown-minutes = minutos
countdown-seconds = segundos
countdown-plain = Hasta el { $moment }
video-play = Reproducir el vídeo
video-play-title = Reproducir: { $title }
video-from = { $play } (se carga desde { $host })
price-included = Incluido
price-best = Recomendado
menu-open = Menú
menu-site = Sitio
progress-bar = Progreso
skip-link = Ir al contenido
popup-close = Cerrar
popup-unnamed = Ventana
consent-banner = Consentimiento
consent-needed = necesario
consent-statistics = estadísticas
consent-marketing = marketing
price-missing = No incluido
chart-series = Serie { $number }
chart-value = Valor
chart-title = Gráfico
host-no-page = No hay ninguna página en { $address }.
host-page-off = La página { $address } acaba de retirarse.
host-page-gone = La página { $address } ya no existe.
host-part-gone = Este formulario ya no está aquí.
host-no-file = Ese archivo no existe.
host-site-down = Este sitio no puede mostrarse ahora. Su responsable sabe por qué.
host-form-gone = Este formulario ya no existe.
host-form-key = Esto no es la clave de un formulario.
host-form-keeps-nothing = Este formulario no guarda nada que no se envíe.
host-form-broken = Las respuestas llegaron dañadas. Envíelas de nuevo desde la propia página.
host-form-utf8 = Las respuestas no están en UTF-8. Envíelas de nuevo desde la propia página.
host-form-odd = Este formulario se envió de una manera que no entiende.
host-form-large = Es más de lo que admite el formulario. Envíe menos.
host-form-large-file = Es más de lo que admite el formulario. Un archivo tiene como máximo { $most } kB.
host-needs-script = Para esto hay que activar JavaScript.
lead-queue-full = Ahora mismo envían muchas personas. Sus respuestas siguen aquí; envíelas de nuevo dentro de un minuto.
lead-disk-full = No se pudo guardar: el disco del servidor está lleno. Sus respuestas siguen aquí; envíelas de nuevo más tarde.
lead-storage-failed = No se pudo guardar: falló el almacenamiento del servidor. Sus respuestas siguen aquí; envíelas de nuevo más tarde.
letter-open-within = { $days ->
    [one] Ábralo en el plazo de un día
   *[other] Ábralo en el plazo de { $days } días
}
letter-from = De { $name }
letter-words = Gracias. Aquí tiene lo que pidió.
confirm-subject = Confirme su dirección
confirm-words = Siga este enlace para que sepamos que la dirección es suya.
letter-confirm = Confirmar
confirm-button = Confirmar mi dirección
confirm-press = Un clic más y su dirección queda confirmada.
confirm-done = Gracias. Su dirección está confirmada.
confirm-dead = Este enlace ya no funciona. Rellene de nuevo el formulario.
confirm-erased = Esta inscripción se borró. Rellene de nuevo el formulario.
file-dead = Este enlace ya no funciona. Pida de nuevo el archivo.
file-gone = El archivo ya no está. Avísenos, por favor.
paper-packing = Lista de embalaje, pedido n.º { $number }
paper-invoice = Factura { $number }
paper-of = De { $day }
paper-order = Pedido n.º { $number } de { $day }
paper-thing = Artículo
paper-sku = Referencia
paper-pieces = Unidades
paper-packed = Embalado
paper-each = Precio
paper-sum = Importe
paper-net = Base, al { $percent } %
paper-tax = Impuesto, { $percent } %
paper-total = Total
