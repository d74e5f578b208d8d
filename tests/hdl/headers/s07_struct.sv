//= top m
//= caution not-plannable
//= port clk in logic
typedef struct packed { logic [3:0] a; logic b; } pair_t;
module m (input logic clk, input pair_t p);
endmodule
