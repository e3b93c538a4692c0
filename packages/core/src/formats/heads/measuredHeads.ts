import { headOf, type MeasuredHead } from './measuredHead.ts'

/** Made up, in six languages; none is any service's own. */
export const measuredHeads: readonly MeasuredHead[] = [
  headOf(
    'English card report, gross, fee and net',
    'activity',
    `Movement no => line_id
     Date and time => occurred_at
     Type => kind
     Order number => order_id
     Card brand => method
     Gross => gross
     Fee => fee
     Net => net
     Currency => currency
     Buyer => customer
     Batch => settlement_id`,
    `M-1|2026-04-01 10:02:11|Purchase|F-101|Amber|64.50|-1.87|62.63|EUR|Odile Fairweather|B-77
     M-2|2026-04-02 11:12:00|Purchase|F-107|Onyx|118.00|-3.42|114.58|EUR|Noor Halloway|B-77
     M-3|2026-04-03 09:30:40|Refund|F-089|Amber|-36.40|0.00|-36.40|EUR|A. Marchbank|B-78`,
  ),
  headOf(
    'English pay-later list',
    'activity',
    `booked => occurred_at
     merch_ref => order_id
     type => kind
     amount => gross
     cost => fee
     settled => net
     cur => currency
     buyer => customer
     plan => -`,
    `01/04/2026|F-5102|PURCHASE|64,50|-1,87|62,63|EUR|Odile Fairweather|12 weeks
     02/04/2026|F-5107|PURCHASE|118,00|-3,42|114,58|EUR|Noor Halloway|12 weeks
     17/04/2026|F-5089|REFUND|-36,40|0,00|-36,40|EUR|A. Marchbank|4 weeks`,
  ),
  headOf(
    'English shop orders',
    'activity',
    `Order => order_id
     Created at => occurred_at
     Paid at => paid_at
     Shipped at => sent_at
     Item title => description
     SKU => sku
     Quantity => quantity
     Unit price => unit_price
     Line total => amount
     Tax => tax_amount
     Country => region
     Email => email
     Payment method => gateway`,
    `#1001|2026-03-01T10:00:00Z|2026-03-01T10:01:00Z|2026-03-03T08:00:00Z|Blue mug|MUG-B|2|12.00|24.00|4.49|IE|a@kiln.example|card
     #1002|2026-03-02T12:00:00Z|2026-03-02T12:01:00Z||Slip trailer|SLIP-1|1|9.50|9.50|1.78|DE|b@kiln.example|wallet`,
  ),
  headOf(
    'English till slips',
    'activity',
    `Receipt => order_id
     Date => occurred_at
     Department => category
     Product => description
     Qty => quantity
     Amount => amount
     VAT => tax_amount
     VAT rate => tax_label
     Shop => location
     Tender => gateway`,
    `T-1|05/03/2026 10:22|Mugs|Blue mug|1|12.00|2.24|23%|Galway|Cash
     T-2|05/03/2026 10:41|Workshops|Evening class|1|45.00|5.35|13.5%|Galway|Card
     T-3|23/03/2026 16:02|Mugs|Green mug|2|24.00|4.49|23%|Galway|Cash`,
  ),
  headOf(
    'English wallet with credit and debit',
    'activity',
    `Transaction ID => line_id
     Time => occurred_at
     Description => kind
     Credit => credit
     Debit => debit
     Balance => balance
     Currency => currency
     Reference => order_id
     Status => status`,
    `W1|2026-05-01 08:00|Payment received|20.00||20.00|EUR|F-1|completed
     W2|2026-05-01 09:00|Payment received|5.50||25.50|EUR|F-2|pending
     W3|2026-05-02 08:00|Purchase||7.25|18.25|EUR||completed`,
  ),
  headOf(
    'German Zahlungsbericht',
    'activity',
    `Vorgangsnummer => line_id
     Buchungsdatum => occurred_at
     Vorgangsart => kind
     Bestellnummer => order_id
     Brutto => gross
     Gebühr => fee
     Netto => net
     Währung => currency
     Käufer => customer
     Land => region`,
    `V1|01.04.2026|Zahlung|B-1|1.064,50|-31,87|1.032,63|EUR|O. Morgenroth|DE
     V2|02.04.2026|Erstattung|B-2|-36,40|0,00|-36,40|EUR|A. Findeisen|AT
     V3|23.04.2026|Auszahlung||-996,23|0,00|-996,23|EUR||`,
  ),
  headOf(
    'German Bestellexport',
    'activity',
    `Auftrag => order_id
     Bestelldatum => occurred_at
     Bezahlt am => paid_at
     Artikelnummer => sku
     Artikelbezeichnung => description
     Menge => quantity
     Einzelpreis => unit_price
     Gesamtbetrag => amount
     MwSt-Betrag => tax_amount
     MwSt-Satz => tax_label
     Warengruppe => category
     Zahlungsart => gateway
     E-Mail => email`,
    `A-9|28.02.2026 09:00|28.02.2026 09:05|WO-1|Wolle rot|3|6,90|20,70|3,31|19 %|Wolle|Karte|x@wolle.example
     A-10|28.02.2026 10:00|28.02.2026 10:05|ND-4|Nadeln 4 mm|1|9,50|9,50|1,52|19 %|Nadeln|Vorkasse|y@wolle.example`,
  ),
  headOf(
    'French relevé de paiements',
    'activity',
    `Identifiant => line_id
     Date d'opération => occurred_at
     Type d'opération => kind
     N° de commande => order_id
     Montant brut => gross
     Commission => fee
     Montant net => net
     Devise => currency
     Client => customer`,
    `P1|01/04/2026 10:00|Paiement|C-1|1 064,50|-31,87|1 032,63|EUR|O. Lavigne
     P2|13/04/2026 11:00|Remboursement|C-2|-36,40|0,00|-36,40|EUR|A. Marchais`,
  ),
  headOf(
    'French export de ventes',
    'activity',
    `Commande => order_id
     Date => occurred_at
     Référence article => sku
     Désignation => description
     Quantité => quantity
     Prix unitaire => unit_price
     Total TTC => amount
     TVA => tax_amount
     Taux de TVA => tax_label
     Pays => region
     Moyen de paiement => gateway
     Catégorie => category`,
    `C-1|2026-03-01|BOL-1|Bol bleu|2|12,00|24,00|4,00|20 %|FR|carte|Bols
     C-2|2026-03-02|TAS-2|Tasse|1|9,50|9,50|1,58|20 %|BE|virement|Tasses`,
  ),
  headOf(
    'Spanish informe de cobros',
    'activity',
    `Nº de operación => line_id
     Fecha => occurred_at
     Tipo de operación => kind
     Pedido => order_id
     Importe bruto => gross
     Comisión => fee
     Importe neto => net
     Moneda => currency
     Comprador => customer`,
    `O1|01/04/2026|Cobro|P-1|1.064,50|-31,87|1.032,63|EUR|O. Lago
     O2|15/04/2026|Devolución|P-2|-36,40|0,00|-36,40|EUR|A. Marco`,
  ),
  headOf(
    'Italian elenco movimenti',
    'activity',
    `ID movimento => line_id
     Data operazione => occurred_at
     Tipo => kind
     Numero ordine => order_id
     Lordo => gross
     Commissione => fee
     Netto => net
     Valuta => currency
     Acquirente => customer
     Paese => region`,
    `I1|01/04/2026|Incasso|N-1|64,50|-1,87|62,63|EUR|O. Lago|IT
     I2|22/04/2026|Rimborso|N-2|-36,40|0,00|-36,40|EUR|A. Marchi|FR`,
  ),
  headOf(
    'Dutch transactieoverzicht',
    'activity',
    `Transactienummer => line_id
     Datum => occurred_at
     Soort => kind
     Bestelling => order_id
     Bruto => gross
     Kosten => fee
     Netto => net
     Valuta => currency
     Klant => customer`,
    `N1|01-04-2026|Betaling|B-1|64,50|-1,87|62,63|EUR|O. Veer
     N2|16-04-2026|Terugbetaling|B-2|-36,40|0,00|-36,40|EUR|A. Maas`,
  ),
  headOf(
    'English statement, one amount',
    'bank',
    `Date => date
     Details => description
     Amount => amount
     Balance => balance
     Reference => reference`,
    `01/04/2026|OPENHALL SETTL 2611|1,204.11|9,204.11|OH-2611
     22/04/2026|CARD CLAY SUPPLY|-212.40|8,991.71|`,
  ),
  headOf(
    'English statement, two columns',
    'bank',
    `Posted account => account
     Posted transactions date => date
     Value date => -
     Description => description
     Money out => debit
     Money in => credit
     Currency => currency
     Running balance => balance`,
    `IE29SKMU99007712344471|01/04/2026|01/04/2026|OPENHALL SETTL||1204.11|EUR|9204.11
     IE29SKMU99007712344471|22/04/2026|23/04/2026|CARD CLAY|212.40||EUR|8991.71`,
  ),
  headOf(
    'German Kontoauszug',
    'bank',
    `Auftragskonto => account
     Buchungstag => date
     Valutadatum => -
     Verwendungszweck => description
     Auftraggeber/Empfänger => description
     Kundenreferenz => reference
     Betrag => amount
     Währung => currency
     Saldo => balance`,
    `DE02120300000000202051|01.04.2026|01.04.2026|Auszahlung 2611|Openhall|OH-2611|1.204,11|EUR|9.204,11
     DE02120300000000202051|22.04.2026|22.04.2026|Ton und Glasur|Clay Supply||-212,40|EUR|8.991,71`,
  ),
  headOf(
    'French relevé bancaire',
    'bank',
    `Date de comptabilisation => date
     Libellé => description
     Débit => debit
     Crédit => credit
     Solde => balance`,
    `01/04/2026|VIR OPENHALL 2611||1 204,11|9 204,11
     22/04/2026|CB ARGILE|212,40||8 991,71`,
  ),
  headOf(
    'Spanish extracto',
    'bank',
    `Fecha operación => date
     Fecha valor => -
     Concepto => description
     Importe => amount
     Saldo => balance`,
    `01/04/2026|01/04/2026|TRANSF OPENHALL 2611|1.204,11|9.204,11
     22/04/2026|22/04/2026|TARJETA ARCILLA|-212,40|8.991,71`,
  ),
  headOf(
    'Italian estratto conto',
    'bank',
    `Data contabile => date
     Data valuta => -
     Descrizione => description
     Dare => debit
     Avere => credit
     Divisa => currency`,
    `01/04/2026|01/04/2026|BONIFICO OPENHALL 2611||1.204,11|EUR
     22/04/2026|22/04/2026|CARTA ARGILLA|212,40||EUR`,
  ),
  headOf(
    'Dutch rekeningafschrift',
    'bank',
    `Rekening => account
     Boekdatum => date
     Omschrijving => description
     Bedrag => amount
     Munt => currency
     Kenmerk => reference
     Saldo na mutatie => balance`,
    `NL02SKMU0123456789|01-04-2026|OPENHALL 2611|1204,11|EUR|OH-2611|9204,11
     NL02SKMU0123456789|22-04-2026|KLEI|-212,40|EUR||8991,71`,
  ),
  headOf(
    'English chart',
    'chart',
    `Account number => code
     Account name => name
     Type => type
     Currency => currency
     Notes => description`,
    `1000|Bank current|Bank|EUR|main
     4000|Sales|Income|EUR|`,
  ),
  headOf(
    'German Kontenplan',
    'chart',
    `Konto => code
     Bezeichnung => name
     Kontoart => type`,
    `1200|Girokonto|Bank
     8400|Erlöse|Ertrag`,
  ),
  headOf(
    'French plan comptable',
    'chart',
    `Compte => code
     Intitulé => name
     Nature => type`,
    `512000|Banque|Banque
     707000|Ventes|Produit`,
  ),
  headOf(
    'Spanish plan de cuentas',
    'chart',
    `Código => code
     Nombre de la cuenta => name
     Tipo => type`,
    `572000|Banco|Banco
     700000|Ventas|Ingreso`,
  ),
  headOf(
    'Dutch rekeningschema',
    'chart',
    `Rekeningnummer => code
     Omschrijving => name
     Soort => type`,
    `1100|Bank|Bank
     8000|Omzet|Opbrengst`,
  ),
  headOf(
    'English heads that mislead',
    'activity',
    `Date => occurred_at
     Amount => amount
     Amount refunded => -
     Order date => -
     Shipping address => ship_to
     Account => -
     Note => -`,
    `2026-03-01|24.00|0.00|2026-02-27|1 Quay Street|77|thanks
     2026-03-02|9.50|9.50|2026-02-28|2 Quay Street|78|`,
  ),
  headOf(
    'Heads that say nothing',
    'activity',
    `A => -
     B => -
     C => -`,
    `1|2|3
     4|5|6`,
  ),
]
