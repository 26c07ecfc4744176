### What Needle says when it cannot do or take something, in English (Project Fluent 1.0).
### A message is an id, and in braces what it names. `tests/core/test_messages.py` holds it to the code.

## Values of a site

chart-empty = There are no numbers yet. Write a label and a number on each line, like “May; 31”.
chart-too-many-lines = A chart shows at most { $most } lines; these are { $count }.
chart-uneven = Some lines have more numbers than others. Give each line as many.
chart-too-many-numbers = A chart shows at most { $most } numbers a line; these are { $count }.
chart-line-without-number = Line { $line }: there is no number after “{ $label }”. Write a label and a number, like “May; 31”.
chart-no-number = Line { $line }: “{ $cell }” is no number. Write a label and a number on each line, like “May; 31”.
tokens-none = This file holds no design tokens: it must be a JSON object.
tokens-no-role = No token in this file has the name of a role. The roles are { $roles }.
tokens-no-json = This file is not JSON. Choose a file of design tokens.
look-foreign = This look comes from another Needle that knows other settings.
look-none-copied = What was copied is no look. Copy one first.
look-number = { $label } must be a number, not { $given }
look-range = { $label } must be { $low } to { $high }
look-face = { $label } must be heading, body or the name of a family, not { $given }
look-choice = { $label } must be one of { $known }, not { $given }
look-colour = { $label } must be a colour of the brand or like #1a2b3c, not { $given }
look-no-property = “{ $name }” is not a property of a look
strict-at = at { $where }: { $why }
strict-text = { $given } cannot be { $what }
strict-whole = { $given } cannot stand here: it is a whole number from { $low } to { $high }
strict-choice = { $given } cannot stand here: it is one of { $known }
strict-id = an id: it is a small letter, then small letters, digits, - or _, 16 at most
strict-role = a role of the palette: it is one of { $roles }
strict-hex = a colour: it is like #1a2b3c
strict-colour = a colour: it is a role of the palette ({ $roles }), or like #1a2b3c
strict-style-key = the key of a text style: it is small letters, digits, - or _, 41 at most
strict-variant-key = the key of a variant: it is one or two capital letters
strict-slug = a slug: it is small letters, digits and single hyphens, 80 at most
strict-address = the address of a site: it is small letters, digits and hyphens, 63 at most
strict-media-file = a file of the media: it is a plain file name of small letters and digits
strict-page-file = a page's file: it is the page's slug and id, like home-k3x.json
strict-item-choice = a choice: it is small letters, digits, - or _
strict-language = a language: it is like en, or de-AT
strict-ratio = a ratio: it is like 16/9
strict-face = a face of type: it is letters, digits, spaces and simple signs, 80 at most
strict-live-file = a page's file: it is a slug and the name of a page
strict-live-place = the place of a file: it is a file of the media or of a release
strict-release-path = a file of a release: it is a page's, one below assets, or one of a few at the root
strict-release-id = a release: r, a day, a time and four digits
strict-one-line = a line: at most 400 signs, and no line break
strict-goal-key = the name of a goal: at most 120 signs, and no line break
strict-param = a name in an address, as utm_term: a letter, then letters, digits, - and _
strict-test-moment = a moment as 2026-11-26T18:00+00:00
strict-host-key = a fingerprint: SHA256: and 43 signs
strict-outside-path = the path of a published file: names with slashes between, and no way up
strict-domain = a domain: letters, digits and hyphens in parts, with dots between
strict-moment = a time: it is like 2027-08-12 21:30, or a day alone
strict-price = a price: it is digits, with two after a dot at most, like 12.50
strict-currency = a currency: it is three capital letters, like GBP
strict-origin = a site: https:// and its name, without a path
strict-call-key = the key of a call: 16 to 40 small letters and digits
strict-outside-begin = an address: https://, a name, and how its pages begin
strict-directory = the address of a certificate authority: https:// and where its ACME directory stands
strict-land = a country: two capital letters, like GB
strict-coupon = a code: 2 to 24 large letters, digits and -
strict-day = a day: year, month and day, like 2027-08-12
strict-percent = a share in percent: digits, like 20 or 7.5
strict-table-name = the name of a table or column: 1 to 80 signs, and no line break
strict-text-path = the path of a text in a part: it is like entries.2.question
strict-digest = a digest: 64 digits from 0 to f
countdown-until = A countdown runs to a date and time like 2026-08-12 21:30, not “{ $given }”.
countdown-zone = “{ $given }” is no time zone. Write one like Europe/London.
video-address = This is no address that a video could play from. Paste one that begins with https://, or embed code with an iframe in it.

## Edits: pages, parts, words

scale-base = Common words are 14 to 24 px large.
scale-ratio = The scale goes from 1.05 to 1.6.
room-range = Room goes from 50 to 200 percent.
clipboard-no-part = What is on the clipboard is no part of a page.
wrap-nothing = Choose items to wrap: a heading, a text, a picture…
wrap-two-columns = Only items that stand in one column can be wrapped together.
wrap-column-beside = These items stand in a column beside others, which is a box already. Give that column a fill or an edge instead.
order-needs-width = Items and columns can stand in another order at one width. Choose one.
row-changed = The row has other columns now.
cell-not-chosen = Choose a cell, or something in it, to add another.
kept-needs-section = Only a section is kept. Choose a section first.
kept-needs-name = A kept section needs a name.
kept-name-taken = There is already a kept section called “{ $name }”. Choose another name.
kept-linked-already = This section is linked already. Unlink it to keep it under another name.
kept-gone = This kept section is gone.
family-in-use = “{ $family }” is in use. Choose other families under Type first.
family-is-a-face = “{ $family }” is the face of a text on a page or of a text style. Give that another face first.
popup-choose-inside = Choose something inside the popup to put it beside.
popup-beside-popups = A popup stands beside other popups only.
part-not-inside = This cannot stand inside that. Choose a section or a column.
part-into-itself = A part cannot be moved into itself.
split-needs-row = Only a row is split into columns.
page-gone = This page is no longer there.
page-needs-name = A page needs a name.
page-name-long = A page name has at most { $most } characters; this one has { $count }.
page-name-taken = There is already a page called “{ $name }”. Choose another name.
page-last = A site needs at least one page. Add another before deleting this one.
advert-line-empty = Line { $line } says nothing on one side of the “=”: write what the address says, “=”, and what the page shows.
advert-line-twice = Line { $line } is for “{ $said }” once more: keep one of them.
advert-no-values = Write at least one value: what the address says, “=”, and what the page shows.
advert-values-full = Such words have at most { $most } values.
adverts-full = A site has at most { $most } of these.
test-ends-first = The split test would end before it begins: choose a later end.
reach-needs-name = Say what is reached, as “Read to the end”.
reach-name-taken = Something on this page counts as “{ $name }” already: choose another name.
reaches-full = A page can have at most { $most } of these.
split-test-full = A split test has at most eight variants.
variant-not-archived = Variant { $key } is not in the archive of this page.
share-range = A share is 0 to 100 %.
letter-width-range = The letter width is 280 to 2400 px, not { $width }.
folder-needs-name = A folder needs a name.
folder-name-taken = There is already a folder called “{ $name }”. Choose another name.
folder-gone = This folder is no longer there.
code-gone = This { $reach } is no longer there.
part-gone = This part is no longer on the page.
text-not-there = This item holds no words of its own there.
code-needs-name = A code needs a name.
site-name = A site needs a name of at most 80 characters.
replace-nothing = There is nothing to look for. Write the words first.
words-unmarked = This file marks no texts. Write a page's words out first, change them in that file, and read it in again.
words-no-text = { $name } cannot be read as text: { $why }.
clipboard-no-words = The clipboard holds no words.
slug-taken = “{ $page }” already has the address /{ $slug }. Choose another.
slug-reserved = /{ $slug } is used by the published site itself. Choose another address.
slug-signs = An address holds small letters, digits and single hyphens: “{ $better }” would do.
slug-long = An address has at most { $most } characters.
pass-needs-reason = Say why it may stay: who looks again later will want to know.
pass-no-page = This one is on no page. Let it pass by itself.
brief-no-date = “{ $date }” is no date. Write it like 2026-12-31.
brief-no-address = “{ $address }” is no address. Write it like https://hill.example.

## Edits: forms and services

form-gone = This form is no longer there.
form-needs-field = A form asks at least one thing.
field-email-needed = The mailing list needs the e-mail address. Cut the thread to the list first.
step-depends-earlier = A step can only depend on an answer of an earlier step.
form-shown = “{ $page }” shows this form. Take it off that page first.
step-depends-later = “{ $step }” depends on an answer that would come after it.
service-gone = This service is no longer there.
service-needs-name = A service needs a name.
service-in-use = “{ $form }” sends to this service. Cut that thread first.
service-mail-address = The mail server of { $service } is a name and a port, like mail.example:587.
service-file-ending = The file of { $service } ends in .csv or .jsonl.
service-address = The address of { $service } begins with https://, like https://lists.example/api.

## Pictures, videos, fonts and other files

picture-gone = This picture is no longer there.
media-other-kind = A picture takes the place of a picture, a video that of a video.
film-not-moving = “{ $name }” holds no moving picture. Choose an MP4 or WebM file.
film-not-played = “{ $name }” is a video that most browsers do not play ({ $codec }). Save it as MP4 (H.264) or WebM.
film-cut-short = “{ $name }” is cut short: there is no picture in it.
film-heavy = “{ $name }” weighs { $weight } MB. A visitor would wait for it very long; make it shorter or smaller than { $most } MB.
film-unreadable = “{ $name }” is not a video that can be read. Choose an MP4 (H.264) or WebM file.
picture-large = “{ $name }” is { $width } × { $height } px, too large to work with. Save it at most { $most } px wide and high (4,000 px are plenty for a page).
picture-unreadable = “{ $name }” is not a picture that can be read. Choose a PNG, JPEG, WebP, GIF or SVG file.
picture-format = “{ $name }” is a { $format } picture. Needle takes PNG, JPEG, WebP, GIF and SVG; save it as one of these.
drawing-heavy = “{ $name }” weighs { $weight } MB, too much for a drawing. Save it as PNG.
drawing-empty = “{ $name }” is not a picture: there is no SVG drawing in it.
drawing-unreadable = “{ $name }” is not a drawing that can be read. Save it as SVG or PNG again.
drawing-parts = “{ $name }” has more than { $most } parts. Save it as PNG.
font-heavy = “{ $name }” weighs { $weight } MB. A font may weigh { $most } MB at most.
font-empty = “{ $name }” has no letters in it.
font-pictures-only = The maker of “{ $family }” allows only pictures of it, not the font itself, on pages.
font-forbidden = The maker of “{ $family }” does not allow it on pages without a licence of your own for that.
font-unreadable = “{ $name }” is not a font that can be read. Choose a TTF, OTF, WOFF or WOFF2 file.
font-damaged = “{ $name }” is damaged. Get the font file again.
file-kind = “{ $name }” cannot be handed out. Needle takes { $endings }.
film-is-folder = “{ $name }” is a folder. Choose a video file in it.
picture-is-folder = “{ $name }” is a folder. Choose a picture file in it.
picture-is-no-file = “{ $name }” is no file. Choose a picture file.
picture-heavy = “{ $name }” weighs { $weight } MB. A picture may weigh { $most } MB at most.
file-cannot-read = “{ $name }” cannot be read: { $why }.
file-heavy = “{ $name }” weighs { $weight } MB. A file may weigh { $most } MB at most.
file-not-kept = “{ $name }” could not be kept: { $why }.
picture-cannot-cut = “{ $name }” cannot be cut: its file is missing or damaged. Replace the picture.
film-not-copied = “{ $name }” could not be copied: { $why }.
original-is-drawing = “{ $name }” is a drawing of lines. Save it as PNG to measure in it.
saved-no-file = “{ $name }” is no file. Choose a saved page: an HTML file or a web archive (MHTML).
saved-heavy = “{ $name }” weighs more than { $most } MB. Save the page again without its videos.
saved-unread = “{ $name }” cannot be read: { $why }.
saved-no-page = “{ $name }” holds no page. Choose an HTML file, or a web archive (MHTML) that a browser has saved.
saved-not-laid = “{ $name }” could not be laid out in time. Try again, or pin a picture of it.
saved-frames = “{ $name }” is made of frames: it only shows other pages ({ $others }). Pin the one that you mean.
saved-gone = “{ $name }” is no longer where it was, so it cannot be laid out at another width. Pin it again.
pdf-locked = “{ $name }” is closed by a password.
pdf-unreadable = “{ $name }” is not a PDF that can be read.

## Leads that are read in

leads-no-csv = This is not a CSV file. Save the table as CSV and import that.
leads-only-header = The file holds no line below its header.
leads-too-many = The file holds more than { $most } lines. Cut it in parts.
leads-no-email = No column of the file holds e-mail addresses.
leads-no-table = The file is no table: { $why }.

## The project on disk, its versions and packages

cannot-write = { $path } cannot be written: { $why }.
cannot-read = { $path } cannot be read: { $why }.
package-bomb = “{ $name }” unpacks to more than a page can be. Nothing was imported.
package-strange-place = “{ $name }” holds a file in a place where none belongs (“{ $place }”). Nothing was imported.
package-no-page = “{ $name }” is a zip file without a page in it.
package-page-large = The page in “{ $name }” is larger than any page.
package-page-empty = The page in “{ $name }” is damaged: it is empty.
package-file-kind = “{ $name }” holds a file of a kind that is not handed out: “{ $file }”.
package-damaged = “{ $name }” is not a page package, or is damaged.
package-not-noted = “{ $name }” was not imported: what code it brings could not be noted ({ $why }).
package-newer = “{ $name }” was made by a newer Needle. Update this one, or export the page again from an older one.
package-page-damaged = The page in “{ $name }” is damaged: { $why }.
package-page-deep = The page in “{ $name }” is nested deeper than any page.
package-lacks-file = “{ $name }” lacks the file of “{ $file }”. Export the page again.
package-not-kept = The files of “{ $name }” cannot be kept: { $why }.
package-font = A font in “{ $name }” cannot be used: { $why }
package-picture = A picture in “{ $name }” cannot be used: { $why }
package-film = A video in the package cannot be used: { $why }
project-link = { $path } is a link or no plain file. A project holds neither, since they could lead to files outside it. Put the file itself in its place, or remove it.
project-no-schema = { $path } is not a Needle project: it has no schema number “needle” at its top.
project-newer = { $path } was written by a newer Needle (schema { $schema }; this one reads up to { $known }). Open it with the newer one.
project-missing = { $path } is missing. Choose the folder of a Needle project.
project-page-twice = { $path } names the page file { $page } twice. Take one of them out.
project-other = { $path } does not hold what a project holds: { $why }. Nothing was changed.
project-deep = { $path } is nested deeper than any page. Nothing was changed; bring back a copy of the file.
project-broken = { $path } is broken or cut short: { $why }. Nothing was changed; bring back a copy of the file.
project-page-empty = { $path }: the page has no variant.
project-page-fault = { $path }: { $why }
project-there = { $folder } holds a project already. Choose an empty folder.
project-open = { $folder } is open in another Needle window. Go on there, or close it first.
project-not-saved = The project could not be saved in { $folder }: { $why }. It is kept in this window; free some space and it is saved by itself.
project-not-repaired = { $folder } could not be repaired: { $why }. Its files are as they were.
click-counts-not = A click on this cannot be counted. Buttons, pictures and icons can.
results-target-full = There are results in that database already ({ $count } leads and events), which are not mixed with others. Name an empty one.
results-moved-on = A host or a window wrote results while they were copied. Nothing was moved. Stop all hosts and windows of this project, then try again.
results-newer = These results are of a newer Needle (step { $step }; this one knows { $known }). Open them with the newer one.
versions-not-aside = { $path } is damaged and cannot be put aside: { $why }.
version-gone = This version is no longer there.
version-damaged = This version is damaged: { $why }.
version-part-missing = A part of this version is missing.
version-not-kept = This version could not be kept: { $why }.
versions-cannot-use = { $path } cannot be used: { $why }. Move it away to begin a new list of versions; the project itself is whole.
versions-fail = The earlier versions cannot be used: { $why }.
project-doubled = { $folder }: the id “{ $id }” stands for { $first } and for { $second }. Nothing was changed. Needle can keep both and give the second an id of its own: ./needle repair { $folder }

## Publishing

publish-medium-missing = “{ $name }” of the project's media is missing or damaged, so nothing was switched. Replace it in Brief, Pictures and files, and send again.
publish-stopped = Stopped. The pages that were not reached are as they were.
publish-address-taken = “{ $page }” is still live at /{ $slug }. Send it or take it off before “{ $other }” can go there.
live-list-broken = { $path }, the list of live pages, is broken ({ $why }). Bring back a copy of it; or move it away and send every page again.
schedule-past = { $time } is past. Choose a time that is still to come.
schedule-no-such-hour = There is no { $time } in { $zone }: the clock is put forward over it that night. Choose an hour before or after.
publish-busy = Somebody sends just now: another window, or ./needle release. Try again when it is done.
release-file-missing = A file of the release is gone ({ $digest }…). Send its pages again.
release-file-damaged = A file of the release is not what it was ({ $digest }…). Send its pages again.
release-file-gone = { $path } of that release is gone, so it cannot be brought back. Bring back another one, or send the pages again.
lost-page-there = There is a page for wrong addresses already: the one at /404.
lost-page-first = Make a home page first, so that it can lead there.
domain-none = “{ $given }” is no domain. One looks like www.quillmoor.example.
target-needs-name = Give it a name.
target-name-taken = There is a target “{ $name }” already.
target-needs-path = { $kind }: say where it is, from / or ~/ on.
target-needs-zip = A zip file's name ends in .zip.
target-needs-server = A server over SFTP takes its name (with :port if that is not 22), a user and a folder.
target-needs-address = { $kind }: say its address, beginning with https://.
target-needs-bucket = S3-compatible storage takes a bucket's name, in small letters, and the address of the service.
target-needs-repository = A git repository takes a path or an address.
target-stopped = Stopped. What visitors get there is as it was; the next send goes on from here.
target-refused = “{ $target }” refused a file: { $why }. What visitors get there is whole; put that right and send again.
target-away = “{ $target }” cannot be reached at { $place }: { $why }. Look at its address, then send again; it goes on where it stopped.
target-sign-in = “{ $target }” does not let { $user } in. Look at the user, the password or the key.
target-host-key = “{ $target }” shows another host key than before: { $shown } and not { $pinned }. Nothing was sent. If the server was really changed, try the target again and confirm the new key.
target-answered = “{ $target }” answered { $status } to { $what }. What visitors get there is whole; send again later.
target-address = “{ $target }”: { $address } is no address that Needle can send to.
target-no-bucket = “{ $target }”: there is no bucket “{ $bucket }”. Look at its name and region.
target-taken = Somebody else has sent to “{ $target }” meanwhile. Send again if yours is the one to stay.
target-no-git = “{ $target }” needs git, which is not installed here.
target-other-site = “{ $target }” holds another site. Nothing was sent. Choose another folder for this one.
target-not-empty = “{ $target }” holds a site that Needle did not put there. Nothing was sent. Choose an empty folder; or tick that it may be replaced.
target-lied = “{ $target }” said that it took { $file }, but does not have it as it was sent. Look at its disk and quota, then send again.
target-manifest-broken = “{ $target }”: { $file } there is none of Needle's, or broken. Remove it, then everything is sent anew.
target-not-told = “{ $target }” came with the project and was never tried on this machine. Try it in Publish, Goes to, before anything is sent there.
target-unknown = The site has no target “{ $name }”. It has: { $known }.
release-no-pages = The site has no page yet, so there is nothing to send.
release-unknown = There is no release { $name }. ./needle release DIR --list shows them.
publish-nothing-sent = Nothing was sent. { $why }
publish-nothing-off = Nothing was taken off. { $why }

## Services and what they answer; each follows the time of a delivery

answer-no-book = { $service }: no address book is chosen
answer-file-unwritten = { $service } cannot be written: { $why }
answer-hook-address = the address of { $service } begins with https://
pay-currency = { $service } takes no { $currency }
answer-nonsense = { $service } answered something that is not its protocol
answer-none = { $service } did not answer within { $seconds } s
answer-unreachable = { $service } cannot be reached
answer-needs-email = { $service } needs an e-mail address; this lead has none
answer-no-letter = { $service } was given no letter
answer-recipient-refused = { $service } refused { $recipient } ({ $code })
answer-login-refused = { $service } refused the log-in
answer-not-offered = { $service } does not offer what is asked: { $why }
answer-not-secured = { $service } is not secured as it should be: { $why }
answer-status = { $service } answered { $status }
answer-key-refused = { $service } refused the key ({ $status })
answer-quota = { $service } asks to wait: its quota is used up ({ $status })
answer-lead-refused = { $service } refused the lead ({ $status }): { $why }

## Drafts by an endpoint of one's own

writer-no-use = The words of the endpoint are of no use: { $faults }. Try again.
writer-address = The address of the endpoint begins with https://, like https://words.example/v1.
writer-key = The endpoint refuses the key. Enter it again.
writer-wait = The endpoint asks to wait: too many requests, or nothing left of what was paid for.
writer-status = The endpoint answered { $status }. Look at its address and the name of the model.
writer-too-much = The endpoint answered far more than a draft. Nothing was taken.
writer-no-words = The endpoint answered without words. Try again.
writer-shape = The endpoint did not keep to the shape that was asked for: { $why }. Try again.
writer-silent = The endpoint did not answer within { $seconds } s. Try again, or take the words that ship.
writer-unreachable = The endpoint cannot be reached. Look at its address.
writer-protocol = The endpoint answered something that is not chat completions. Look at its address.
writer-refused = The endpoint refuses to write this: { $why } Say the idea in other words, or take the words that ship.
writer-ended = The writer stopped. Press Draft again; it starts afresh.
writer-lacks = no { $part }
writer-long-text = a text of more than { $most } characters

## What runs beside the window

host-certificate-and-key = --certificate and --key go together.
host-public-address = “{ $address }” is no public address. Write it like https://www.hill.example.
host-certificate-missing = { $file } is missing. A certificate and its key are two files.
child-slow = It did not start in time.
phone-address = This machine cannot be reached at { $address } ({ $why }). Choose another of its addresses.
port-taken = Port { $port } cannot be used ({ $why }). Close the program that has it, or choose another port with --port.
child-ended = It ended at once.
child-said = { $words }

## A site's own domain

domain-no-answer = Nobody above { $name } answered. Look at this machine's connection, then read again.
domain-not-registered = { $name } is not registered. Look for a mistyped letter; or register it, and wait an hour.
domain-no-server = None of the name servers ({ $servers }) answers for it.
domain-server-silent = { $servers } keeps silent. Ask whoever runs it; until then some visitors wait or are lost.
domain-server-failed = { $servers } fails when it is asked for { $name } (SERVFAIL): its zone is broken. Whoever runs it has to load it anew.
domain-server-lame = { $servers } was named for { $name }, but does not hold it. Take it off the list of name servers where the name is registered, or set the zone up there.
domain-servers-differ = The zone names { $servers } as well, but where { $name } is registered that is not known, so nobody asks there. Records belong to { $place }.
domain-servers-disagree = The name servers do not hold the same (serials { $serials }). Wait until all have the newest zone; if it takes over an hour, ask whoever runs them.
domain-dnssec = DNSSEC of { $name } is broken ({ $why }), so many visitors get nothing. Where the name is registered, take the DS record away, or set the one that the name servers' operator shows.
domain-apex-cname = { $name } itself is a CNAME to { $value }. The bare name may not be one: it hides mail and all else. Delete it, then add the address below.
domain-mail = Mail to { $name } is lost as long as the CNAME hides its MX records.
domain-old-a = An old address is in the way: A { $value } at { $name }.
domain-old-aaaa = An old address is in the way: AAAA { $value } at { $name }. Visitors with IPv6 still go there.
domain-cname-beside = { $name } is a CNAME and has other records beside it ({ $types }). Nothing may stand beside one: delete those or the CNAME.
domain-www-elsewhere = { $name } leads to { $value }, which is not where the pages are.
domain-cname-loop = { $name } leads to itself.
domain-caa = CAA records of { $name } let only { $allowed } issue certificates. Add one for { $authority }, or no certificate comes.
domain-wildcard = Every name below { $name } answers with { $value } (a record *). Names that are missing look as if they were there.
domain-doubled = There is { $name }: the name was typed whole where only its beginning belongs. Delete it, and add the record with the short name.
domain-host-nowhere = { $host }, where the pages should stand, leads nowhere itself.
domain-apex-missing = { $name } needs the address below.
domain-www-missing = { $name } needs the record below.
domain-wrong-place = The record was made at { $server }, which nobody asks. Make it at { $place }.
domain-resolver = { $server } gives no answer.
domain-resolver-old = { $server } still remembers { $value }, for { $seconds } seconds more.
domain-resolver-missing = { $server } has not heard of { $name } yet.
domain-https-closed = Nobody answers at { $name } over https. Ask for a certificate, or open port 443 of the machine.
domain-https-none = { $name } shows no certificate of its own. Ask for one.
domain-https-other = The certificate at { $name } is for another name: browsers warn of it. Ask for one for { $name }.
domain-https-ended = The certificate at { $name } does not hold today (it is for until { $day }): browsers warn of it. Ask for a new one.
domain-https-ending = The certificate at { $name } ends on { $day } and was not renewed. See why below, or ask for a new one.
domain-https-untrusted = The certificate at { $name } is by { $issuer }, whom browsers do not trust. Ask for one by an authority that they do.

outside-none = That form or popup is gone, or is shown elsewhere already.
calls-full = There are { $most } outside calls already. Remove one that nothing calls any more.
call-name = An outside call needs a name, one that no other has.
outside-no-site = “{ $given }” is no site. One looks like https://shop.example.

## Certificates
authority-silent = The authority ({ $authority }) cannot be reached ({ $why }). It is asked again later.
authority-nonsense = { $authority } does not answer as an authority does ({ $why }). See whether that is the address of its ACME directory.
authority-slow = The authority ({ $authority }) had not decided after { $seconds } seconds. It is asked again later.
authority-refused = The authority ({ $authority }) refuses: { $why }
authority-limit = The authority ({ $authority }) takes no more requests for now: { $why } It is asked again when it allows it.
authority-not-proved = The authority could not reach { $names_of } here: { $why } The records have to lead to this host, and port 80 of it to this program.
authority-no-http = { $authority } offers no proof over HTTP, which is the one that a host can give.
authority-other = { $authority } sent a certificate for other names or another key. It was not taken.
host-authority = { $address } is no address of an ACME directory. One begins with https://.

## Tables

cell-long = A cell takes at most { $most } characters; this has { $count }.
cell-number = “{ $given }” is no number. Write it like 1299.5.
cell-money = “{ $given }” is no amount of money. Write it like 12.50 EUR.
cell-date = “{ $given }” is no date. Write it like 2027-08-12, or 12 August 2027.
cell-yes = “{ $given }” is neither yes nor no.
cell-choice = “{ $given }” is none of: { $known }.
cell-address = “{ $given }” is no address. Write it like https://www.quillmoor.example.
sheet-heavy = The file weighs more than { $most } MB. Take columns out of it that no page shows.
sheet-binary = The file holds no words but bytes. Save it as CSV from the program that made it.
sheet-broken = Line { $line } cannot be read ({ $why }). A quote mark may be open there.
sheet-empty = The file holds no line. It takes one with the names of the columns, then one for each row.
sheet-rows = The file has { $count } rows; a table takes { $most } at most.
sheet-columns = The file has { $count } columns; a table takes { $most } at most.
sheet-nothing = No column of the file is taken. Choose one at least.
sheet-twice = Two columns of the file go into one column of the table. Send one of them elsewhere.
sheet-key = The file lacks the column by which rows are told. Choose one that it has.
sheet-cells = { $count ->
    [one] A cell does not fit, so nothing was taken:
   *[other] { $count } cells do not fit, so nothing was taken:
} { $faults }
table-gone = This table is no longer there.
order-not-open = This order does not wait to be paid.
refund-amount = Between nothing and { $most } can be paid back.
strict-words = words: at most 600 signs
shop-pay-service = “{ $name }” needs a payment service. Add one in Services, or choose another way.
shop-land-way = “{ $way }” goes to that country alone. Change or take away that way first.
shop-step = “{ $line }” is no step of carriage. Write up to how many grams, and the price: 500 = 3.90
shop-coupon-nth = One is free of two or more: write a whole number from 2 on.
shop-coupon-auto = A coupon that holds by itself cannot be limited in number or to once: nobody could take it off again.
shop-none = Nothing is sold yet. Connect, Shop, says of which table things are.
table-used = “{ $page }” makes its pages of this table. Make it an ordinary page first.
table-name-taken = There is a table called “{ $name }” already.
table-needs-name = A table or column needs a name.
table-columns = A table takes { $most } columns at most.
table-rows = A table takes { $most } rows at most.
table-cell = { $row }, { $column }: { $why }
column-name-taken = There is a column called “{ $name }” already.
column-last = A table needs a column. Add another before deleting this one.
column-in-address = “{ $page }” has “{ $column }” in the address of its pages. Take it out of there first.
shop-ways = An order can reach somebody in { $most } ways at most.
shop-coupon-gone = This coupon is no longer there.
shop-coupon-taken = There is a coupon { $code } already.
shop-coupon-value = A coupon takes something off: 1 to 100 percent, or an amount.
shop-way-gone = This way is no longer there.
shop-way-name = A way in which orders reach somebody needs a name.
order-state = This order cannot become that any more. Look again at what it is now.
column-means = “{ $column }” cannot be “{ $means }”: that takes { $kinds }.
column-gone = This column is no longer there.
row-gone = This row is no longer there.
column-in-conditions = Which rows have a page on “{ $page }” depends on “{ $column }”. Take that condition away first.
table-empty = “{ $table }” has no rows yet. Add one, or read a CSV file into it.
master-already = “{ $page }” is one page for each row already.
master-none = “{ $page }” is an ordinary page.
master-one-address = Every row needs an address of its own: leave a column in it.
