--= param WIDTH=3
--= top fifo
--= port din in std_logic_vector 2:0
entity fifo is
  generic (width : positive := 16);
  port (din : in std_logic_vector(width - 1 downto 0));
end;
