/** What a column of a shop's export can hold, each with what it says to a person. */
export const exportFields = {
  order_id: 'order number',
  ordered_at: 'day of the order',
  ordered_time: 'time of day, where it stands apart',
  status: 'status',
  currency: 'currency',
  total: 'total with tax',
  net: 'total without tax',
  tax: 'tax',
  shipping: 'shipping',
  discount: 'discount',
  refunded: 'refunded',
  quantity: 'quantity',
  unit_price: 'price of one',
  customer_id: 'customer',
  email: 'e-mail of the customer',
  landing_url: 'first page',
  click_id: 'click ID',
  visitor_id: 'visitor',
  utm_source: 'utm_source',
  utm_medium: 'utm_medium',
  utm_campaign: 'utm_campaign',
  utm_term: 'utm_term',
  utm_content: 'utm_content',
  channel: 'way of the order (web, store, phone)',
  product_group: 'group of products',
} as const
export type ExportField = keyof typeof exportFields
export const exportFieldNames = Object.keys(exportFields) as ExportField[]

/** Columns that go over as they stand. */
export const plainFields = [
  'customer_id',
  'landing_url',
  'click_id',
  'visitor_id',
  'utm_source',
  'utm_medium',
  'utm_campaign',
  'utm_term',
  'utm_content',
  'channel',
  'product_group',
] as const satisfies readonly ExportField[]

/**
 * Words of headings by field, in the languages that shops are run in, as `plain` writes them. A heading that is
 * longer than its words may say more: the longest words that it holds decide.
 */
export const headingWords: Record<ExportField, string> = {
  order_id:
    'order id|order number|order no|order nr|order ref|order reference|order code|order|name|bestellnummer|bestell nr|bestellung|auftragsnummer|auftrag|numero de commande|no de commande|commande|numero de pedido|pedido|numero ordine|ordine|bestelnummer|bestelling|ordernummer|encomenda|注文番号|受注番号|n commande|n de commande|id commande|reference commande|ref commande|numer zamowienia|nr zamowienia|id zamowienia|zamowienie|numero do pedido|no do pedido|codigo do pedido|id do pedido|numero da encomenda|numero da venda|venda',
  ordered_at:
    'ordered at|ordered on|ordered|order date|date of order|created at|created|placed at|placed|purchase date|date|day|bestelldatum|auftragsdatum|bestellt am|datum|tag|date de commande|fecha del pedido|fecha|data ordine|data do pedido|data|besteldatum|orderdatum|注文日時|注文日|受注日|日付|date commande|date de la commande|cree le|date de creation|data zamowienia|data zlozenia|data złozenia|data utworzenia|dzien|data da compra|data da venda|data da encomenda|criado em|data de criacao|data e hora',
  ordered_time: 'order time|time|uhrzeit|zeit|heure|hora|ora|tijd|注文時刻|時刻|godzina|czas|horario',
  status:
    'order status|payment status|financial status|status|state|zahlungsstatus|bestellstatus|zustand|statut|etat|estado|stato|betaalstatus|ステータス|状態|状況|statut commande|statut de la commande|etat de la commande|status zamowienia|status płatnosci|stan|situacao|situacao do pedido|status do pedido|status do pagamento|estado da encomenda',
  currency: 'currency|wahrung|devise|moneda|valuta|moeda|通貨|waluta',
  total:
    'grand total|order total|total with tax|total incl tax|total incl vat|total inc vat|total including tax|total including vat|gross total|gross amount|gross|total|line total|row total|amount|gesamtbetrag|gesamtsumme|gesamt|endbetrag|brutto|bruttobetrag|summe|betrag|total ttc|montant ttc|montant|ttc|importe total|importe|totale|totaal|bedrag|合計|合計金額|税込|total paye|montant total|total commande|montant paye|kwota|suma|razem|wartosc|kwota brutto|suma brutto|wartosc brutto|wartosc zamowienia|do zapłaty|zapłacono|total pago|valor total|valor pago|total do pedido|valor da encomenda|valor',
  net: 'total without tax|total excl tax|total excl vat|total ex vat|net total|net amount|net|netto|nettobetrag|total ht|montant ht|ht|neto|imponibile|excl btw|subtotal|sub total|zwischensumme|税抜|小計|kwota netto|suma netto|wartosc netto|valor liquido|total liquido|total sem iva',
  tax: 'tax|taxes|vat|tax amount|vat amount|mwst|ust|mehrwertsteuer|umsatzsteuer|steuer|tva|taxe|iva|btw|moms|税|税額|消費税|montant tva|podatek|kwota vat|imposto|impostos',
  shipping:
    'shipping|shipping cost|shipping costs|shipping total|delivery|delivery cost|postage|freight|versand|versandkosten|porto|livraison|frais de port|envio|gastos de envio|spedizione|verzendkosten|verzending|frete|送料|frais de livraison|port|dostawa|koszt dostawy|wysyłka|koszt wysyłki|przesyłka|valor do frete|custo de envio|portes|entrega',
  discount:
    'discount|discounts|discount total|rabatt|nachlass|remise|descuento|sconto|korting|desconto|値引|割引|reduction|montant remise|rabat|znizka|descontos|valor do desconto',
  refunded:
    'refunded|refund|refunds|refunded amount|refund amount|amount refunded|erstattet|erstattung|ruckerstattung|rembourse|remboursement|reembolso|rimborso|terugbetaling|返金|返金額|montant rembourse|total rembourse|zwrot|zwroty|kwota zwrotu|zwrocono|reembolsado|valor reembolsado|estorno|valor estornado|devolucao',
  quantity:
    'quantity|qty|units|menge|anzahl|stuck|quantite|cantidad|quantita|aantal|数量|qte|ilosc|liczba|sztuk|szt|quantidade|qtd|qtde',
  unit_price:
    'unit price|price|item price|price each|einzelpreis|stuckpreis|preis|prix unitaire|prix|precio|prezzo|prijs|単価|cena|cena jednostkowa|preco|preco unitario|valor unitario',
  customer_id:
    'customer id|customer number|customer no|customer|client id|client|kundennummer|kunden nr|kunde|cliente|klantnummer|klant|顧客番号|顧客|id client|no client|numero client|klient|numer klienta|id klienta|id do cliente|codigo do cliente|numero do cliente',
  email:
    'customer email|customer e mail|email address|email|e mail|mail|e mail adresse|kunden e mail|courriel|adresse email|correo|correo electronico|e mailadres|メールアドレス|メール|email client|e mail client|adres e mail|e mail klienta|email klienta|email do cliente|e mail do cliente',
  landing_url:
    'landing page|landing url|landing|first page|entry page|einstiegsseite|landingpage|page d arrivee|page de destination|page d entree|premiere page|strona wejscia|pierwsza strona|strona docelowa|pagina de destino|pagina de entrada|primeira pagina',
  click_id: 'aq click|click id|clickid|klick id',
  visitor_id: 'visitor id|visitor|besucher',
  utm_source: 'utm source',
  utm_medium: 'utm medium',
  utm_campaign: 'utm campaign',
  utm_term: 'utm term',
  utm_content: 'utm content',
  channel:
    'sales channel|channel|vertriebskanal|kanal|canal|canale|kanaal|販売経路|kanał|kanał sprzedazy|canal de vendas',
  product_group:
    'product group|product type|product category|item category|category|warengruppe|produktgruppe|kategorie|artikelgruppe|categorie|categorie de produit|tipo de producto|categoria|productgroep|商品カテゴリ|カテゴリ|kategoria|grupa produktow|grupo de produtos',
}

/** Words of a status in those languages; what is none of them is explained once by a person. */
export const statusWords = {
  paid: 'paid|complete|completed|fulfilled|shipped|sent|delivered|closed|done|ok|processing|bezahlt|abgeschlossen|versendet|versandt|geliefert|erledigt|paye|payee|terminee|expediee|livree|pagado|completado|enviado|entregado|pagato|completato|spedito|consegnato|betaald|afgerond|verzonden|支払済|支払い済み|完了|発送済|発送済み|expedie|livre|termine|traitee|en preparation|opłacone|zapłacone|zrealizowane|wysłane|zakonczone|dostarczone|w realizacji|pago|concluido|entregue|aprovado|em processamento|em separacao',
  refunded:
    'refunded|returned|erstattet|zuruckerstattet|retourniert|remboursee|rembourse|reembolsado|devuelto|rimborsato|terugbetaald|返金済|返金済み|zwrocone|zwrot|estornado|devolvido',
  partially_refunded:
    'partially refunded|partly refunded|teilweise erstattet|teilerstattet|partiellement remboursee|parcialmente reembolsado|一部返金|rembourse partiellement|czesciowo zwrocone|czesciowy zwrot',
  cancelled:
    'cancelled|canceled|void|voided|failed|unpaid|pending|on hold|storniert|abgebrochen|offen|fehlgeschlagen|annulee|annule|en attente|cancelado|anulado|pendiente|annullato|in attesa|geannuleerd|キャンセル|取消|未払い|保留|echouee|anulowane|niezapłacone|oczekujace|oczekuje na płatnosc|cancelada|aguardando pagamento|pendente|nao pago',
  test: 'test|testbestellung|テスト',
} as const

/** A heading or a word as it is compared: small letters without marks above them, spaces for what is neither letter nor digit. */
export const plain = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/(?<=\p{Script=Latin})\p{M}+/gu, '')
    .normalize('NFKC')
    .toLowerCase()
    .replace(/ß/g, 'ss')
    .replace(/\([^)]*\)/g, ' ')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
