//= top m
//= port a in logic 7:0
//= port b in logic 31:0
//= port s out logic 1:0
package kinds;
  typedef logic [7:0] byte_t;
  typedef enum logic [1:0] {IDLE, RUN, STOP} state_t;
endpackage
module m import kinds::*; (input byte_t a, input kinds::byte_t [3:0] b, output state_t s);
endmodule
