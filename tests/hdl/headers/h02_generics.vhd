--= top fifo
--= port din in std_logic_vector 15:0
--= port level out unsigned 5:0
entity fifo is
  generic (width : positive := 16; depth_bits : natural := 5);
  port (din : in std_logic_vector(width - 1 downto 0);
        level : out unsigned(depth_bits downto 0));
end fifo;
