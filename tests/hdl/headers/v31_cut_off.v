//= error 3 cut off
module m (input a,
