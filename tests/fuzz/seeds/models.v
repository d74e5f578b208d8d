`timescale 1ns/10ps
primitive dff (q, c, d, n);
output q; reg q; input c, d, n;
table
 r 0 ? : ? : 0; (01) 1 ? : ? : 1; f ? ? : ? : -; ? * ? : ? : -; ? ? * : ? : x;
endtable
endprimitive
`celldefine
module F #(parameter P = 2) (input [1:0] D, input C, R, output Q, output [1:0] Z);
reg n, q2;
wire w = D[0] & ~R;
dff u (Q, C, w, n);
always @(posedge C or negedge R) if (!R) q2 <= 0; else q2 <= {D, R} == 3'b101 ? D[1] : q2;
bufif1 (Z[0], q2, R); nand #(1, 2) (Z[1], D[1], C);
specify
 specparam t = 0.1:0.2:0.3, u = t * 2;
 (posedge C => (Q +: D)) = (t, u); if (R) (D *> Z) = (1, 2, 3); ifnone (R -=> Q) = 1;
 $setuphold(posedge C &&& (R == 1), D, 0.1, 0.2, n,,, dC, dD); $recrem(posedge R, posedge C, 1, 2, n);
 $width(posedge C, 0.5, 0, n); $period(negedge C, 1);
endspecify
endmodule
`endcelldefine
