--= top m
--= port a in bit_vector 0:3
--= port b in signed 11:0
--= port c out bit
entity m is port (a : in bit_vector(0 to 3); b : in signed(11 downto 0); c : out bit); end m;
