/** What a file says of itself, in the words of ffprobe's JSON (`-show_format -show_streams`): as much of it as is used here. */
export interface ProbeStream {
  codec_type?: string;
  codec_name?: string;
  profile?: string;
  width?: number;
  height?: number;
  pix_fmt?: string;
  bits_per_raw_sample?: string;
  bits_per_sample?: number;
  color_space?: string;
  color_transfer?: string;
  color_primaries?: string;
  r_frame_rate?: string;
  avg_frame_rate?: string;
  nb_frames?: string;
  start_time?: string;
  nb_read_packets?: string;
  duration_ts?: number;
  time_base?: string;
  sample_rate?: string;
  channels?: number;
  tags?: Record<string, string>;
  disposition?: { attached_pic?: number };
  side_data_list?: { rotation?: number }[];
  field_order?: string;
  codec_tag_string?: string;
}

export interface Probe {
  streams?: ProbeStream[];
  format?: { format_name?: string; duration?: string; start_time?: string; tags?: Record<string, string> };
}
