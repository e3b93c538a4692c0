-- A kept sum may be larger than an amount: what can be booked of it is asked when it is booked.
ALTER TABLE "activity_sum" DROP CONSTRAINT IF EXISTS "activity_sum_amount";
