import type { HeadsOf, MeaningOf } from './columnMeanings.ts'

// What heads of foreign files call the things that Culvert reads: folded (small letters, no accents, single spaces), in English, German, French, Spanish,
// Italian and Dutch, separated by commas. The first ones say it best.

const ofDates = {
  paid_at:
    'paid at,paid on,paid,payment date,date paid,bezahlt am,zahlungsdatum,paye le,date de paiement,pagado el,fecha de pago,pagato il,data pagamento,betaald op,betaaldatum',
  sent_at:
    'shipped at,shipped on,sent at,dispatched,dispatch date,shipping date,ship date,versandt am,versanddatum,expedie le,date d expedition,enviado el,fecha de envio,spedito il,data spedizione,verzonden op,verzenddatum',
  available_at:
    'available at,available on,available from,verfugbar am,disponible le,disponible el,disponibile dal,beschikbaar op',
} as const

const activity = {
  line_id:
    'line id,transaction id,transaction no,transaction number,movement no,movement id,movement number,entry id,id,vorgangsnummer,transaktionsnummer,transaktions id,vorgangs id,identifiant,id operation,identifiant de transaction,n d operation,n de operacion,no de operacion,numero de operacion,id operacion,id de transaccion,id movimento,numero movimento,id transazione,transactienummer,transactie id,volgnummer',
  occurred_at:
    'date and time,occurred at,date,time,datetime,timestamp,booked,booked at,booking date,created at,created,transaction date,order date,datum,buchungsdatum,bestelldatum,zeitpunkt,datum uhrzeit,date d operation,date operation,date de commande,date heure,fecha,fecha operacion,fecha de operacion,fecha y hora,data,data operazione,data e ora,data ordine,besteldatum,datum tijd,transactiedatum,day,tag,jour,dia,giorno,dag',
  ...ofDates,
  kind: 'type,kind,transaction type,movement type,event,entry type,vorgangsart,buchungsart,transaktionsart,art,typ,umsatzart,type d operation,type de transaction,nature,tipo,tipo de operacion,tipo de movimiento,tipo operazione,tipo movimento,causale,soort,transactiesoort,type transactie',
  order_id:
    'order id,order number,order no,order,merch ref,merchant reference,order reference,receipt,receipt no,sale no,invoice no,bestellnummer,auftragsnummer,auftrag,bestellung,bestell nr,belegnummer,commande,n de commande,numero de commande,reference commande,ticket,pedido,numero de pedido,n de pedido,no de pedido,referencia del pedido,numero ordine,ordine,n ordine,scontrino,bestelling,bestelnummer,ordernummer,bonnummer,reference',
  settlement_id:
    'settlement id,settlement,batch,batch id,payout id,payout no,payout reference,deposit id,abrechnung,abrechnungsnummer,auszahlungsnummer,lot,remise,n de versement,liquidacion,lote,liquidazione,lotto,uitbetaling,batchnummer',
  method:
    'card brand,card type,brand,card scheme,kartenart,kartenmarke,marque de carte,type de carte,marca de tarjeta,marca,circuito,tipo carta,kaartmerk,kaartsoort',
  gateway:
    'payment method,means of payment,tender,paid by,paid with,payment type,gateway,zahlungsart,zahlungsmittel,zahlart,moyen de paiement,mode de paiement,forma de pago,metodo de pago,metodo di pagamento,modalita di pagamento,betaalwijze,betaalmethode',
  category:
    'category,product category,department,product group,product type,warengruppe,kategorie,abteilung,categorie,rayon,famille,categoria,seccion,reparto,productgroep,afdeling',
  sku: 'sku,item no,item number,item code,product code,article no,artikelnummer,artikel nr,artikelnr,reference article,code article,ref article,referencia articulo,codigo de articulo,codice articolo,codice prodotto,artikelcode',
  description:
    'description,details,item,item title,item name,product,product name,product title,title,artikelbezeichnung,bezeichnung,beschreibung,artikel,produkt,designation,libelle,article,produit,descripcion,concepto,articulo,producto,descrizione,prodotto,articolo,omschrijving,product omschrijving',
  quantity:
    'quantity,qty,units,pieces,menge,anzahl,stuck,quantite,qte,cantidad,unidades,quantita,qta,pezzi,aantal,hoeveelheid',
  unit_price:
    'unit price,price each,price,item price,einzelpreis,stuckpreis,preis,prix unitaire,prix,precio unitario,precio,prezzo unitario,prezzo,stukprijs,eenheidsprijs,prijs',
  location:
    'location,shop,store,branch,outlet,filiale,standort,laden,magasin,boutique,lieu,tienda,local,sucursal,negozio,sede,punto vendita,winkel,vestiging',
  region:
    'country,ship country,shipping country,destination,region,delivery country,country code,land,lieferland,zielland,pays,pays de livraison,destination pays,pais,pais de envio,pais de destino,paese,paese di destinazione,nazione,bestemming',
  customer:
    'customer,customer name,buyer,buyer name,payer,name,client,kunde,kundenname,kaufer,zahler,acheteur,nom du client,cliente,comprador,nombre del cliente,acquirente,nome cliente,klant,klantnaam,koper',
  email:
    'email,e mail,email address,customer email,e mail adresse,courriel,adresse e mail,correo,correo electronico,posta elettronica,e mailadres',
  ship_to:
    'shipping address,ship to,delivery address,lieferadresse,lieferanschrift,adresse de livraison,direccion de envio,indirizzo di spedizione,afleveradres,bezorgadres',
  currency: 'currency,currency code,cur,ccy,wahrung,devise,monnaie,moneda,divisa,valuta,munt',
  status: 'status,state,zustand,statut,etat,estado,stato,toestand',
  tax_label:
    'tax rate,vat rate,tax name,tax label,tax code,mwst satz,steuersatz,ust satz,taux de tva,taux tva,tipo de iva,tipo iva,aliquota,aliquota iva,btw tarief,btw percentage',
  tax_amount:
    'tax,tax amount,vat,vat amount,sales tax,mwst betrag,mwst,ust,ust betrag,steuer,steuerbetrag,mehrwertsteuer,tva,montant tva,montant de tva,iva,importe iva,cuota iva,importo iva,btw,btw bedrag',
  gross:
    'gross,gross amount,amount gross,gross total,brutto,bruttobetrag,brut,montant brut,importe bruto,bruto,lordo,importo lordo,brutobedrag',
  fee: 'fee,fees,fee amount,cost,charge,charges,commission,processing fee,gebuhr,gebuhren,provision,entgelt,frais,commissions,comision,comisiones,tarifa,commissione,commissioni,spese,kosten,vergoeding',
  net: 'net,net amount,amount net,net total,settled,payable,netto,nettobetrag,auszahlungsbetrag,montant net,importe neto,neto,importo netto,nettobedrag',
  amount:
    'amount,total,line total,total amount,value,sum,betrag,gesamtbetrag,summe,gesamt,montant,total ttc,montant ttc,total ligne,importe,importe total,total linea,importo,importo totale,totale,bedrag,totaalbedrag,totaal',
  credit:
    'credit,money in,paid in,received,haben,gutschrift,zugang,recettes,credito,abono,ingreso,haber,avere,accrediti,entrate,bij,bijschrijving',
  debit:
    'debit,money out,paid out,spent,soll,belastung,abgang,depenses,debito,cargo,gasto,debe,dare,addebiti,uscite,af,afschrijving',
  balance: 'balance,running balance,saldo,kontostand,solde,saldo na mutatie',
} as const

const bank = {
  account:
    'account,account number,account no,iban,posted account,auftragskonto,konto,kontonummer,compte,numero de compte,cuenta,numero de cuenta,conto,numero conto,rekening,rekeningnummer,eigen rekening',
  date: 'date,booking date,posted date,posting date,posted transactions date,transaction date,buchungstag,buchungsdatum,datum,date de comptabilisation,date d operation,date operation,date comptable,fecha,fecha operacion,fecha de operacion,fecha contable,data,data contabile,data operazione,data registrazione,boekdatum,boekingsdatum',
  value_date:
    'value date,valutadatum,valuta,wertstellung,date de valeur,date valeur,fecha valor,fecha de valor,data valuta,rentedatum',
  description:
    'description,details,particulars,narrative,text,memo,payee,transaction details,verwendungszweck,buchungstext,auftraggeber empfanger,beguenstigter zahlungspflichtiger,empfanger,auftraggeber,libelle,libelle operation,nature de l operation,beneficiaire,concepto,descripcion,beneficiario,descrizione,descrizione operazione,causale,ordinante beneficiario,omschrijving,mededelingen,naam tegenpartij,tegenpartij',
  reference:
    'reference,customer reference,end to end reference,bank reference,transaction reference,kundenreferenz,referenz,reference client,reference,referencia,riferimento,kenmerk,betalingskenmerk',
  line_id:
    'transaction id,entry id,line id,id,transaktionsnummer,identifiant,numero de movimiento,id movimento,transactienummer,volgnummer',
  amount: 'amount,value,betrag,umsatz,montant,importe,importo,bedrag',
  credit:
    'credit,money in,paid in,credits,credit amount,haben,gutschrift,eingang,recettes,credito,abono,abonos,haber,avere,accrediti,entrate,bij,bijschrijving',
  debit:
    'debit,money out,paid out,debits,debit amount,withdrawals,soll,belastung,ausgang,depenses,debito,cargo,cargos,debe,dare,addebiti,uscite,af,afschrijving',
  currency: 'currency,currency code,ccy,wahrung,devise,monnaie,moneda,divisa,munt,muntsoort,valuta',
  balance:
    'balance,running balance,closing balance,saldo,saldo nach buchung,kontostand,solde,saldo na mutatie,saldo disponible',
} as const

const chart = {
  code: 'account number,account code,account no,code,number,nominal code,account,konto,kontonummer,konto nr,compte,numero de compte,numero du compte,codigo,cuenta,numero de cuenta,codice,conto,codice conto,rekeningnummer,grootboeknummer,rekening,nummer',
  name: 'account name,name,title,account title,description,bezeichnung,kontobezeichnung,kontoname,name des kontos,intitule,intitule du compte,libelle,nom du compte,nombre,nombre de la cuenta,descripcion,titulo,nome,nome conto,descrizione,denominazione,omschrijving,naam,rekeningnaam',
  type: 'type,account type,class,category,kind,kontoart,kontotyp,art,typ,nature,type de compte,classe,tipo,tipo de cuenta,naturaleza,clase,tipo conto,natura,soort,rekeningsoort,categorie',
  currency: 'currency,ccy,wahrung,devise,moneda,divisa,valuta,munt',
  bank_number: 'iban,bank account number,bank number,bankverbindung,numero iban,bankrekening',
  description:
    'notes,note,comment,comments,purpose,remarks,bemerkung,notiz,hinweis,remarques,note,commentaire,notas,observaciones,osservazioni,toelichting,opmerking',
} as const

const settlements = {
  settlement_id:
    'settlement id,settlement no,settlement number,settlement,statement id,statement no,statement number,batch id,batch,abrechnungsnummer,abrechnungs nr,abrechnung,n de releve,numero de releve,releve,n de decompte,decompte,liquidacion,numero de liquidacion,no de liquidacion,liquidazione,numero liquidazione,afrekening,afrekeningsnummer,afrekeningnummer',
  period_start:
    'period start,start date,from,date from,start,begin,period from,period begin,von,beginn,zeitraum von,periodenbeginn,debut,debut de periode,du,periode du,desde,inicio,inicio del periodo,fecha inicio,dal,inizio,inizio periodo,data inizio,van,begindatum,periode van,begin periode',
  period_end:
    'period end,end date,to,date to,end,until,period to,period until,bis,ende,zeitraum bis,periodenende,fin,fin de periode,au,periode au,hasta,fin del periodo,fecha fin,al,fine,fine periodo,data fine,tot,tot en met,einddatum,periode tot,einde periode',
  currency: activity.currency,
  opening_balance:
    'opening balance,balance before,brought forward,balance brought forward,starting balance,opening,anfangssaldo,eroffnungssaldo,saldovortrag,solde initial,solde d ouverture,saldo inicial,saldo de apertura,saldo iniziale,saldo di apertura,beginsaldo,openingssaldo',
  closing_balance:
    'closing balance,balance after,carried forward,balance carried forward,ending balance,closing,endsaldo,schlusssaldo,solde final,solde de cloture,saldo final,saldo de cierre,saldo finale,saldo di chiusura,eindsaldo,slotsaldo',
  payout_date:
    'payout date,paid out on,paid on,payment date,deposit date,transfer date,auszahlungsdatum,ausgezahlt am,uberweisungsdatum,date de versement,verse le,date du virement,fecha de pago,pagado el,fecha de abono,data di pagamento,pagato il,data accredito,uitbetaaldatum,uitbetaald op,datum uitbetaling',
  payout_reference:
    'payout reference,payout no,payout id,payment reference,bank reference,transfer reference,reference,auszahlungsreferenz,auszahlungsnummer,verwendungszweck,referenz,reference du versement,reference de virement,referencia del pago,referencia,riferimento pagamento,riferimento,betalingskenmerk,kenmerk',
  url: 'url,link,page,web page,address,seite,lien,page web,enlace,pagina,collegamento,koppeling',
} as const

const balances = {
  at: 'date,day,as of,at,balance date,datum,stichtag,tag,date du solde,jour,fecha,dia,data,giorno,al,saldodatum,dag',
  currency: activity.currency,
  available:
    'available,available balance,available funds,balance available,verfugbar,verfugbares guthaben,verfugbarer saldo,disponible,solde disponible,saldo disponible,disponibile,saldo disponibile,beschikbaar,beschikbaar saldo',
  pending:
    'pending,pending balance,in process,not yet available,ausstehend,schwebend,in bearbeitung,en attente,solde en attente,pendiente,saldo pendiente,in sospeso,in attesa,in behandeling,in afwachting',
  reserve:
    'reserve,reserved,held,held back,on hold,rolling reserve,einbehalt,einbehalten,rucklage,reserve de garantie,retenu,retenue,retenido,reserva,trattenuto,riserva,trattenuta,gereserveerd,ingehouden,reservering',
} as const

/** Words for each meaning of a column, by what a file is of. */
export const headWords: { readonly [Of in HeadsOf]: Readonly<Record<MeaningOf<Of>, string>> } = {
  activity,
  bank,
  settlements,
  balances,
  chart,
}
