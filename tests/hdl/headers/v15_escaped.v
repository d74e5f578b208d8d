//= top \top-one
//= port a+b in wire
//= port bus[3] in wire
//= port y out wire 1:0
module \top-one (input \a+b , input \bus[3] , output [1:0] y);
endmodule
