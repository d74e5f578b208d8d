module formula(input [4:0] gray, output [7:0] rose_n);
assign rose_n = ~(8'd1 << {gray[4], gray[4] ^ gray[3], gray[4] ^ gray[3] ^ gray[2]});
endmodule
