### What Needle says to a visitor, in English (Project Fluent 1.0). The words of the site's owner
### stand on the pages themselves; these are what a form, a countdown or the host says of its own.

## Beside a field

field-needed = “{ $label }” is needed.
field-long = “{ $label }” takes at most { $most } characters; this has { $count }.
field-phone = “{ $label }” does not look like a phone number. Begin with + and the country.
field-email = “{ $label }” does not look like an e-mail address.
field-one-of = “{ $label }” takes one of: { $choices }.
field-number = “{ $label }” takes a number.
field-least = “{ $label }” takes { $least } or more.
field-most = “{ $label }” takes { $most } or less.
field-date = “{ $label }” takes a date like { $example }.
field-past = “{ $label }” takes no day that is past.
field-file-large = “{ $label }” takes at most { $most } kB; “{ $file }” has { $weight } kB.
field-file-empty = “{ $file }” is empty.
field-file-again = Please choose “{ $label }” again.
field-file-kind = “{ $label }” takes { $endings }; “{ $file }” is none of these.
field-file-other = “{ $file }” is not what its ending says. Save it again as { $ending } and send that.
here-needed = An answer is needed here.
here-email = This does not look like an e-mail address.

## In and below a form

form-back = Back
form-next = Next
form-step = Step { $step } of { $steps }
form-free = (if you like)
form-choose = Choose…
form-country = Country of { $label }
form-trap = Leave this empty
form-proof = One moment: your browser proves that it is no robot.
form-unreached = The page could not reach its server. Your answers are still here; please send again.
form-thanks = Thank you. We have your message.
form-again = Please look again at what is marked.

## Other things on a page

rows-search = Search
rows-all = All
rows-none = Nothing here fits.
goods-from = from { $price }
goods-instead = instead of { $price }
goods-until = until { $day }
goods-sold-out = Sold out
goods-left = { $count ->
    [one] Only one left
   *[other] Only { $count } left
}
goods-rated = { $rating } of 5 from { $count ->
    [one] one rating
   *[other] { $count } ratings
}
cart-sold-out = { $thing } is sold out.
cart-fewer = Of { $thing } { $left ->
    [one] only one is
   *[other] only { $left } are
} left; your cart has { $count }.
cart-other-price = { $thing } costs something else now than when you put it in.
cart-gone = { $count ->
    [one] One thing in your cart is
   *[other] { $count } things in your cart are
} not sold any more.
order-is = Order no. { $number } { $state }.
order-new = is kept
order-paid = is paid
order-sent = is sent
order-done = is done
order-cancelled = was taken back
order-lapsed = was not paid in time, and its things are free again
order-pay = Pay now
order-more = Add it to your order
order-along = It goes along with order No. { $number }
order-more-sure = Order { $thing } as well?
order-more-yes = Order it, with duty to pay
order-more-no = No, thank you
order-pay-down = Your order No. { $number } is stored. The payment service does not answer just now. Please try again in a while.
order-waits = It waits to be paid.
order-until = Its things are kept for you until { $until }.
order-odd = Something else was paid than it comes to. We look into that.
order-back = { $amount } was paid back
order-back-waits = { $amount } is being paid back
order-words = Order No. { $number }
order-dead = This link is too old, or this order is not kept any more.
order-again = Order the same again
order-take-back = Take the order back
order-look = Look it up, or take it back
account = All your orders
account-how = We write to you: the letter has a link to everything that you ordered here.
account-email = Your e-mail address
account-send = Send me the link
account-sent = If anything was ordered with this address, a letter is on its way to it. Its link holds for an hour; in one day at most five are written.
account-many = Very many letters were asked for from here. Please try again in ten minutes.
account-none = This shop cannot write to you.
account-dead = This link is too old: it holds for an hour.
account-letter = Somebody, most likely you, asked for the orders of this address. If it was not you, nothing is to be done.
account-open = See all orders
coupon = Coupon
coupon-off = Coupon { $code }
coupon-none = There is no coupon { $code }.
coupon-other-things = The coupon { $code } is not for what is in your cart.
coupon-day = The coupon { $code } does not hold today.
coupon-sum = The coupon { $code } holds from { $sum } on.
coupon-used-up = The coupon { $code } is used up.
coupon-once = The coupon { $code } holds once for each person.
cart-closed = This shop is closed just now.
cart-show = Show the cart
cart-add = Into the cart
cart-count = How many
cart-which = Which one
cart-empty = Your cart is empty.
cart-again = Count it again
cart-things = Things
cart-way = How it reaches you
cart-no-way = Choose how it reaches you.
cart-ordered = This cart is ordered already. The letter to you says so.
cart-elsewhere = Go on on another device
cart-brought = A cart from another device
cart-take = Take this cart
cart-with = Goes well with it
cart-firm = That is not a tax number of that country: { $number }.
cart-land = Country
cart-firm-number = Tax number, for a business in another country
cart-untaxed = Tax that you owe in your own country
cart-reverse = Reverse charge: { $number } owes the tax.
cart-no-pay = Choose how you pay.
cart-pay = How you pay
cart-tax-in = of which tax, { $percent } %
cart-tax-on = tax, { $percent } %
cart-total = To pay
cart-order = Your order
cart-clear = Remove what is not sold any more
rows-more = Show more
trail-label = Way to this page
gallery = Pictures
countdown-days = days
countdown-hours = hours
countdown-minutes = minutes
countdown-seconds = seconds
countdown-plain = Until { $moment }
video-play = Play the video
video-play-title = Play: { $title }
video-from = { $play } (loads from { $host })
price-included = Included
price-best = Recommended
menu-open = Menu
menu-site = Site
progress-bar = Progress
skip-link = Skip to the content
popup-close = Close
popup-unnamed = Popup
consent-banner = Consent
consent-needed = needed
consent-statistics = statistics
consent-marketing = marketing
price-missing = Not included
chart-series = Series { $number }
chart-value = Value
chart-title = Chart

## What the host answers

host-no-page = There is no page at { $address }.
host-page-off = The page { $address } was taken off just now.
host-page-gone = The page { $address } is gone for good.
host-part-gone = This form is no longer here.
host-no-file = There is no such file.
host-not-kept = This cannot be kept or looked up just now. Please try again in a while.
host-site-down = This site cannot be shown just now. Its owner has been told why.
host-form-gone = This form is no longer there.
host-form-key = This is not the key of a form.
host-form-keeps-nothing = This form keeps nothing that is not sent.
host-form-broken = The answers came broken. Please send them again from the page itself.
host-form-utf8 = The answers are not in UTF-8. Please send them again from the page itself.
host-form-odd = This form was sent in a way that it does not understand.
host-form-large = This is more than the form can take. Please send less.
host-form-large-file = This is more than the form can take. A file has at most { $most } kB.
host-needs-script = This needs JavaScript to be switched on.
lead-queue-full = Very many people are sending just now. Your answers are still here; please send again in a minute.
lead-disk-full = This could not be kept: the server's disk is full. Your answers are still here; please send again in a while.
lead-storage-failed = This could not be kept: the server's storage failed. Your answers are still here; please send again in a while.

## Letters, and what their links lead to

letter-open-within = { $days ->
    [one] Open within a day
   *[other] Open within { $days } days
}
letter-from = From { $name }
letter-words = Thank you. Here is what you asked for.
confirm-subject = Please confirm your address
confirm-words = Please follow this link, so that we know the address is yours.
letter-confirm = Confirm
confirm-button = Confirm my address
confirm-press = One press more, and your address is confirmed.
confirm-done = Thank you. Your address is confirmed.
confirm-dead = This link no longer works. Please fill the form in again.
confirm-erased = This sign-up was erased. Please fill the form in again.
file-dead = This link no longer works. Please ask for the file again.
file-gone = The file is no longer there. Please tell us.
paper-packing = Packing list, order no. { $number }
paper-invoice = Invoice { $number }
paper-of = Of { $day }
paper-order = Order no. { $number } of { $day }
paper-thing = Thing
paper-sku = Item number
paper-pieces = Pieces
paper-packed = Packed
paper-each = Each
paper-sum = Sum
paper-net = Net, at { $percent } %
paper-tax = Tax, { $percent } %
paper-total = Total
